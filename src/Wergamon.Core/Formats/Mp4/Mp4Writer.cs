using System.Buffers.Binary;
using Wergamon.Core.Audio;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Formats.Mp4;

/// <summary>What the packets of a stream turned out to be.</summary>
internal readonly record struct Mp4Bitrates(uint Mean, uint Max, uint LargestPacket);

/// <summary>
/// Writes one stream of packets as M4A (ISO/IEC 14496-12): the packets, then the movie box, which describes them. Its edit list cuts off
/// the encoder's delay and padding (8.6.6), and a free-form field says the same to players that only know that (common practice,
/// no source), so that tracks play gapless.
/// </summary>
internal sealed class Mp4Writer : IPcmWriter
{
    private const int LongHeadLength = 16;

    private readonly Stream _stream;
    private readonly IEncoder _encoder;
    private readonly TagSet _tags;
    private readonly Action<BoxWriter, byte[], Mp4Bitrates> _writeEntry;
    private readonly Mp4SampleTable _table = new();
    private readonly long _dataStart;
    private long _written;

    /// <param name="open">Opens the encoder.</param>
    /// <param name="writeEntry">Writes the sample entry from the encoder's extradata.</param>
    public Mp4Writer(
        Stream stream, PcmFormat format, TagSet tags, Func<PacketSink, IEncoder> open, Action<BoxWriter, byte[], Mp4Bitrates> writeEntry)
    {
        Format = format;
        _stream = stream;
        _tags = tags;
        _writeEntry = writeEntry;
        _encoder = open(TakePacket);
        var head = new BoxWriter();
        using (head.Open("ftyp"u8))
            head.Bytes("M4A \0\0\0\0M4A mp42isom"u8);
        stream.Write(head.ToArray());
        _dataStart = stream.Position;
        stream.Write(MediaDataHead(0));
    }

    public PcmFormat Format { get; }

    public void Write(SampleBuffer block)
    {
        _written += block.FrameCount;
        _encoder.Write(block);
    }

    public void Complete()
    {
        _encoder.Complete();
        if (_table.Frames < _written + _encoder.Delay)
            throw new CodecException("The encoder gave less than went in.");
        long end = _stream.Position;
        _stream.Position = _dataStart;
        _stream.Write(MediaDataHead(end - _dataStart));
        _stream.Position = end;
        _stream.Write(MovieBox());
        _stream.Flush();
    }

    public void Dispose()
    {
        _encoder.Dispose();
        _stream.Dispose();
    }

    private void TakePacket(EncodedPacket packet)
    {
        if (packet.Data.IsEmpty)
            return;
        _table.Add(_stream.Position, packet.Data.Length, packet.Frames, Format.Rate.Hertz);
        _stream.Write(packet.Data);
    }

    /// <summary>The head of the media data box, with a length of 64 bits.</summary>
    private static byte[] MediaDataHead(long length)
    {
        var head = new byte[LongHeadLength];
        head[3] = 1;
        "mdat"u8.CopyTo(head.AsSpan(4));
        BinaryPrimitives.WriteInt64BigEndian(head.AsSpan(8), length);
        return head;
    }

    private byte[] MovieBox()
    {
        long delay = _encoder.Delay, played = _written, stored = _table.Frames;
        int version = stored > uint.MaxValue ? 1 : 0;
        uint rate = (uint)Format.Rate.Hertz;
        var boxes = new BoxWriter();
        using (boxes.Open("moov"u8))
        {
            using (boxes.OpenFull("mvhd"u8, (byte)version))
            {
                WriteTimes(boxes, version);
                boxes.UInt32(rate);
                boxes.Sized(played, version);
                boxes.UInt32(0x0001_0000);
                boxes.UInt16(0x0100);
                boxes.Zeros(10);
                WriteMatrix(boxes);
                boxes.Zeros(24);
                boxes.UInt32(2);
            }

            using (boxes.Open("trak"u8))
            {
                using (boxes.OpenFull("tkhd"u8, (byte)version, flags: 7))
                {
                    WriteTimes(boxes, version);
                    boxes.UInt32(1);
                    boxes.Zeros(4);
                    boxes.Sized(played, version);
                    boxes.Zeros(12);
                    boxes.UInt16(0x0100);
                    boxes.Zeros(2);
                    WriteMatrix(boxes);
                    boxes.Zeros(8);
                }

                if (stored != played)
                {
                    using (boxes.Open("edts"u8))
                    using (boxes.OpenFull("elst"u8, (byte)version))
                    {
                        boxes.UInt32(1);
                        boxes.Sized(played, version);
                        boxes.Sized(delay, version);
                        boxes.UInt32(0x0001_0000);
                    }
                }

                WriteMedia(boxes, version, rate, stored);
            }

            using (boxes.Open("udta"u8))
            {
                Mp4Chapters.Write(boxes, _tags[FieldNames.Chapters]);
                Mp4Tags.WriteMeta(boxes, _tags, stored == played ? [] : [Mp4Tags.GaplessItem(delay, stored - delay - played, played)]);
            }
        }

        return boxes.ToArray();
    }

    private void WriteMedia(BoxWriter boxes, int version, uint rate, long stored)
    {
        const int Undetermined = 0x55C4;
        using (boxes.Open("mdia"u8))
        {
            using (boxes.OpenFull("mdhd"u8, (byte)version))
            {
                WriteTimes(boxes, version);
                boxes.UInt32(rate);
                boxes.Sized(stored, version);
                boxes.UInt16(Undetermined);
                boxes.UInt16(0);
            }

            using (boxes.OpenFull("hdlr"u8))
            {
                boxes.Zeros(4);
                boxes.Bytes("soun"u8);
                boxes.Zeros(13);
            }

            using (boxes.Open("minf"u8))
            {
                using (boxes.OpenFull("smhd"u8))
                    boxes.Zeros(4);
                using (boxes.Open("dinf"u8))
                using (boxes.OpenFull("dref"u8))
                {
                    boxes.UInt32(1);
                    using (boxes.OpenFull("url "u8, flags: 1)) { }
                }

                using (boxes.Open("stbl"u8))
                {
                    using (boxes.OpenFull("stsd"u8))
                    {
                        boxes.UInt32(1);
                        _writeEntry(boxes, _encoder.ExtraData.ToArray(), _table.BitratesAt(Format.Rate.Hertz));
                    }

                    _table.Write(boxes);
                }
            }
        }
    }

    /// <summary>No time of day: the same input gives the same file.</summary>
    private static void WriteTimes(BoxWriter boxes, int version) => boxes.Zeros(version == 1 ? 16 : 8);

    private static void WriteMatrix(BoxWriter boxes)
    {
        foreach (uint value in (uint[])[0x0001_0000, 0, 0, 0, 0x0001_0000, 0, 0, 0, 0x4000_0000])
            boxes.UInt32(value);
    }

    /// <summary>Starts a sample entry with the fields that all sound shares (ISO/IEC 14496-12, 12.2.3).</summary>
    internal static BoxWriter.OpenBox OpenEntry(BoxWriter boxes, ReadOnlySpan<byte> type, PcmFormat format, int bits)
    {
        var entry = boxes.Open(type);
        boxes.Zeros(6);
        boxes.UInt16(1);
        boxes.Zeros(8);
        boxes.UInt16(format.Channels);
        boxes.UInt16(bits);
        boxes.Zeros(4);
        boxes.UInt32(format.Rate.Hertz <= ushort.MaxValue ? (uint)format.Rate.Hertz << 16 : 0);
        return entry;
    }
}
