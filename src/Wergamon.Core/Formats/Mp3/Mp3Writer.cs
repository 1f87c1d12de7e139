using System.Globalization;
using Wergamon.Core.Audio;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Id3v2;

namespace Wergamon.Core.Formats.Mp3;

/// <summary>
/// Writes MP3 with the ID3v2 tag in front. The info frame says how many samples of delay and padding a player has to cut
/// off, so that tracks play gapless.
/// </summary>
internal sealed class Mp3Writer : IPcmWriter
{
    private readonly Stream _stream;
    private readonly IEncoder _encoder;
    private readonly long _firstFrame;
    private long _soundFrames;

    public Mp3Writer(Stream stream, PcmFormat format, TagSet tags, Mp3Settings settings, IEncoders encoders, TagWriteOptions? options)
    {
        Format = format;
        _stream = stream;
        stream.Write(Id3v2Writer.Write(tags, Id3v2WriteOptions.For(options)));
        _firstFrame = stream.Position;
        var container = new Dictionary<string, string> { ["id3v2_version"] = "0", ["write_id3v1"] = "0", ["write_xing"] = "1" };
        _encoder = encoders.OpenInContainer("libmp3lame", format, OptionsFor(settings, format.Rate.Hertz), stream, "mp3", container);
    }

    public PcmFormat Format { get; }

    public void Write(SampleBuffer block)
    {
        _encoder.Write(block);
        _soundFrames += block.FrameCount;
    }

    public void Complete()
    {
        _encoder.Complete();
        if (!Mp3InfoFrame.StateLength(_stream, _firstFrame, _soundFrames))
            throw new CodecException("The encoded MP3 has no frame that could state its length.");
        _stream.Flush();
    }

    public void Dispose()
    {
        _encoder.Dispose();
        _stream.Dispose();
    }

    private static Dictionary<string, string> OptionsFor(Mp3Settings settings, int hertz)
    {
        var rate = (settings.KilobitsPerSecond(hertz) * 1000).ToString(CultureInfo.InvariantCulture);
        return settings.Mode switch
        {
            Mp3Mode.Variable => new() { ["flags"] = "+qscale", ["global_quality"] = LibAvQuality.Of(settings.Value) },
            Mp3Mode.Average => new() { ["b"] = rate, ["abr"] = "1" },
            _ => new() { ["b"] = rate },
        };
    }
}
