using Wergamon.Core.Audio;

namespace Wergamon.Core.Formats.Ogg;

/// <summary>The packets that precede the audio of a stream.</summary>
/// <param name="Packets">The first has a page of its own; the audio starts on a new page.</param>
/// <param name="Skipped">Samples at the start that decoders discard and that positions count (pre-skip of Opus).</param>
internal sealed record OggHeaders(IReadOnlyList<byte[]> Packets, int Skipped);

/// <summary>
/// Writes an encoder's packets as Ogg. The position of the last page says where the music ends, so that decoders cut off the padding
/// (Vorbis I specification, A.2; RFC 7845, section 4.4).
/// </summary>
internal sealed class OggWriter : IPcmWriter
{
    /// <summary>A page is written once it holds so many bytes or a second of music.</summary>
    private const int UsualPageLength = 4096;

    private readonly Stream _stream;
    private readonly IEncoder _encoder;
    private readonly OggPageWriter _pages;
    private readonly int _skipped;
    // The last packet waits, since its position depends on whether another follows.
    private byte[] _waiting = [];
    private int _waitingLength = -1;
    private long _encoded;
    private long _written;
    private long _pageStart;
    private bool _hasAudioPage;

    /// <param name="open">Opens the encoder.</param>
    /// <param name="headersOf">Makes the header packets from the encoder's extradata.</param>
    public OggWriter(Stream stream, PcmFormat format, Func<PacketSink, IEncoder> open, Func<byte[], OggHeaders> headersOf)
    {
        Format = format;
        _stream = stream;
        _encoder = open(TakePacket);
        _pages = new OggPageWriter(stream, SerialOf(_encoder.ExtraData));
        var headers = headersOf(_encoder.ExtraData.ToArray());
        _skipped = headers.Skipped;
        WriteHeaders(_pages, headers.Packets);
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
        long end = _written + _skipped;
        if (_waitingLength < 0 || PositionOf(_encoded) < end)
            throw new CodecException("The encoder gave less than went in.");
        _pages.Write(_waiting.AsSpan(0, _waitingLength), end);
        _pages.Flush(isLast: true);
        _stream.Flush();
    }

    public void Dispose()
    {
        _encoder.Dispose();
        _stream.Dispose();
    }

    /// <summary>Writes header packets; what follows starts on a new page.</summary>
    internal static void WriteHeaders(OggPageWriter pages, IReadOnlyList<byte[]> packets)
    {
        pages.Write(packets[0], 0);
        pages.Flush(isLast: false);
        foreach (var packet in packets.Skip(1))
            pages.Write(packet, 0);
        pages.Flush(isLast: false);
    }

    private void TakePacket(EncodedPacket packet)
    {
        if (packet.Data.IsEmpty)
            return;
        if (_waitingLength >= 0)
        {
            long position = Math.Min(PositionOf(_encoded), _written + _skipped);
            _pages.Write(_waiting.AsSpan(0, _waitingLength), position);
            // The first packet has a page of its own: on a page that is first and last, a position could mean either end of the music.
            if (!_hasAudioPage || _pages.Length >= UsualPageLength || position - _pageStart >= Format.Rate.Hertz)
            {
                _pages.Flush(isLast: false);
                _pageStart = position;
                _hasAudioPage = true;
            }
        }

        if (_waiting.Length < packet.Data.Length)
            _waiting = new byte[2 * packet.Data.Length];
        packet.Data.CopyTo(_waiting);
        _waitingLength = packet.Data.Length;
        _encoded += packet.Frames;
    }

    private long PositionOf(long encoded) => encoded - _encoder.Delay + _skipped;

    /// <summary>Any number does for a file of one stream; the same input gives the same file.</summary>
    private static uint SerialOf(ReadOnlySpan<byte> extraData) => OggCrc.Append(0, extraData);
}
