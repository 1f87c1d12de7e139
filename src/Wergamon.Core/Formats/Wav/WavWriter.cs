using System.Buffers.Binary;
using System.Runtime.InteropServices;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Iff;

namespace Wergamon.Core.Formats.Wav;

/// <summary>
/// Writes WAV. 28 bytes are reserved in front (a JUNK chunk, as EBU Tech 3306 advises), which become the
/// ds64 chunk when the file outgrows 4 GB. The extensible header is used where the plain one is not enough: more than
/// 2 channels, or more than 16 bits.
/// </summary>
public sealed class WavWriter : IPcmWriter
{
    private const int FileHeaderLength = 12;
    private const int WideLengthsLength = 28;
    private const int PlainFormatLength = 16;
    private const int ExtensibleFormatLength = 40;

    /// <summary>The fixed part of a KSDATAFORMAT_SUBTYPE GUID after its 16-bit format tag.</summary>
    private static ReadOnlySpan<byte> SubtypeTail => [0x00, 0x00, 0x00, 0x00, 0x10, 0x00, 0x80, 0x00, 0x00, 0xAA, 0x00, 0x38, 0x9B, 0x71];

    private readonly Stream _stream;
    private readonly IReadOnlyList<TailChunk> _tail;
    private readonly long _riffLimit;
    private byte[] _bytes;
    private long _dataLength;

    /// <param name="stream">Written from its position 0. It must be seekable unless <paramref name="frameCount"/> comes true.</param>
    /// <param name="format">Format of the samples.</param>
    /// <param name="frameCount">Frames that will come, where known; the header says so from the start.</param>
    /// <param name="tail">Chunks after the audio.</param>
    /// <param name="riffLimit">The length from which on RF64 is written; smaller only in tests.</param>
    public WavWriter(
        Stream stream, PcmFormat format, long? frameCount = null, IReadOnlyList<TailChunk>? tail = null, long riffLimit = uint.MaxValue)
    {
        _stream = stream;
        _tail = tail ?? [];
        _riffLimit = riffLimit;
        Format = format;
        _bytes = new byte[SampleBuffer.DefaultCapacity * format.BytesPerFrame];
        ExpectedFrames = frameCount;
        WriteHeader((frameCount ?? 0) * format.BytesPerFrame);
    }

    public PcmFormat Format { get; }

    private long? ExpectedFrames { get; }

    /// <summary>The exact length in bytes of a file of so many frames.</summary>
    public static long FileLength(PcmFormat format, long frames, long tailLength)
    {
        long data = frames * format.BytesPerFrame;
        return HeadLength(format) + data + (data & 1) + tailLength;
    }

    /// <summary>Writes the whole header; exactly this many frames must follow, and nothing after them.</summary>
    public static void WriteHead(Stream stream, PcmFormat format, long frames) => _ = new WavWriter(stream, format, frames);

    public void Write(SampleBuffer block)
    {
        int length = block.FrameCount * Format.BytesPerFrame;
        _dataLength += length;
        if (BitConverter.IsLittleEndian && Format is { IsFloat: true, Bits: 32 })
        {
            _stream.Write(MemoryMarshal.AsBytes(block.Floats));
            return;
        }

        if (_bytes.Length < length)
            _bytes = new byte[length];
        PcmPacking.Wav.Pack(block, _bytes);
        _stream.Write(_bytes, 0, length);
    }

    public void Complete()
    {
        if ((_dataLength & 1) == 1)
            _stream.WriteByte(0);
        foreach (var chunk in _tail)
            Chunks.Write(_stream, chunk, ByteOrder.LittleEndian);
        if (ExpectedFrames * Format.BytesPerFrame != _dataLength)
        {
            _stream.Position = 0;
            WriteHeader(_dataLength);
            _stream.Position = _stream.Length;
        }

        _stream.Flush();
    }

    public void Dispose() => _stream.Dispose();

    private static bool IsExtensible(PcmFormat format) => format.Channels > 2 || format.Bits > 16 || format.Bits % 8 != 0;

    private static long HeadLength(PcmFormat format) =>
        FileHeaderLength + Chunks.HeaderLength + WideLengthsLength
        + Chunks.HeaderLength + (IsExtensible(format) ? ExtensibleFormatLength : PlainFormatLength) + Chunks.HeaderLength;

    private void WriteHeader(long dataLength)
    {
        long riffLength = HeadLength(Format) + dataLength + (dataLength & 1) + _tail.Sum(chunk => chunk.LengthInFile) - Chunks.HeaderLength;
        bool wide = riffLength > _riffLimit;
        Chunks.WriteHeader(_stream, wide ? "RF64" : "RIFF", wide ? uint.MaxValue : (uint)riffLength, ByteOrder.LittleEndian);
        _stream.Write("WAVE"u8);

        Chunks.WriteHeader(_stream, wide ? "ds64" : "JUNK", WideLengthsLength, ByteOrder.LittleEndian);
        Span<byte> lengths = stackalloc byte[WideLengthsLength];
        lengths.Clear();
        if (wide)
        {
            BinaryPrimitives.WriteInt64LittleEndian(lengths, riffLength);
            BinaryPrimitives.WriteInt64LittleEndian(lengths[8..], dataLength);
            BinaryPrimitives.WriteInt64LittleEndian(lengths[16..], dataLength / Format.BytesPerFrame);
        }

        _stream.Write(lengths);
        WriteFormat();
        Chunks.WriteHeader(_stream, "data", wide ? uint.MaxValue : (uint)dataLength, ByteOrder.LittleEndian);
    }

    private void WriteFormat()
    {
        bool extensible = IsExtensible(Format);
        ushort kind = Format.IsFloat ? (ushort)3 : (ushort)1;
        Span<byte> header = stackalloc byte[ExtensibleFormatLength];
        header.Clear();
        BinaryPrimitives.WriteUInt16LittleEndian(header, extensible ? (ushort)0xFFFE : kind);
        BinaryPrimitives.WriteUInt16LittleEndian(header[2..], (ushort)Format.Channels);
        BinaryPrimitives.WriteUInt32LittleEndian(header[4..], (uint)Format.Rate.Hertz);
        BinaryPrimitives.WriteUInt32LittleEndian(header[8..], (uint)((long)Format.Rate.Hertz * Format.BytesPerFrame));
        BinaryPrimitives.WriteUInt16LittleEndian(header[12..], (ushort)Format.BytesPerFrame);
        BinaryPrimitives.WriteUInt16LittleEndian(header[14..], (ushort)(Format.BytesPerSample * 8));
        BinaryPrimitives.WriteUInt16LittleEndian(header[16..], 22);
        BinaryPrimitives.WriteUInt16LittleEndian(header[18..], (ushort)Format.Bits);
        BinaryPrimitives.WriteUInt32LittleEndian(header[20..], (uint)Format.Roles);
        BinaryPrimitives.WriteUInt16LittleEndian(header[24..], kind);
        SubtypeTail.CopyTo(header[26..]);
        int length = extensible ? ExtensibleFormatLength : PlainFormatLength;
        Chunks.WriteHeader(_stream, "fmt ", (uint)length, ByteOrder.LittleEndian);
        _stream.Write(header[..length]);
    }
}
