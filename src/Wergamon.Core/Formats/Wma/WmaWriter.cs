using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Formats.Asf;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Formats.Wma;

/// <summary>
/// Writes WMA. The container leaves room in front; its header is then rebuilt there, with tags and the length of the music.
/// </summary>
internal sealed class WmaWriter : IPcmWriter
{
    /// <summary>In samples of one channel, above 22.05 kHz.</summary>
    private const int LongestPacket = 2048;

    private readonly Stream _stream;
    private readonly TagSet _tags;
    private readonly IEncoder _encoder;
    private readonly long _room;
    private long _written;

    public WmaWriter(Stream stream, PcmFormat format, TagSet tags, Func<Stream, IEncoder> open)
    {
        Format = format;
        _stream = stream;
        _tags = tags;
        _room = AsfHeaderWriter.LengthOf(tags) + AsfHeaderWriter.UsualPadding;
        stream.Write(new byte[_room]);
        _encoder = open(stream);
        // Decoders drop the first packet: silence in front of the music is what they drop.
        if (_encoder.Delay > 0)
            _encoder.Write(new SampleBuffer(format, _encoder.Delay) { FrameCount = _encoder.Delay });
    }

    public PcmFormat Format { get; }

    public void Write(SampleBuffer block)
    {
        _written += block.FrameCount;
        _encoder.Write(block);
    }

    public void Complete()
    {
        // A decoder gives a packet once it has the next: silence behind the music brings out its end.
        var silence = new SampleBuffer(Format, 2 * LongestPacket) { FrameCount = 2 * LongestPacket };
        _encoder.Write(silence);
        _encoder.Complete();
        var header = AsfObjects.Open(new PartStream(_stream, _room, _stream.Length - _room))
            ?? throw new CodecException("The encoder gave no ASF file.");
        long length = _room + header.Length;
        var bytes = AsfHeaderWriter.Write(
            header, _tags, _stream.Length - length, length,
            TimeSpan.FromTicks((long)Math.Round(_written * (double)TimeSpan.TicksPerSecond / Format.Rate.Hertz)));
        _stream.Position = 0;
        _stream.Write(bytes);
        _stream.Position = _stream.Length;
        _stream.Flush();
    }

    public void Dispose()
    {
        _encoder.Dispose();
        _stream.Dispose();
    }
}
