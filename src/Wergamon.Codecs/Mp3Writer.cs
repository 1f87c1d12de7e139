using System.Globalization;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Mp3;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Id3v2;

namespace Wergamon.Codecs;

/// <summary>
/// Writes MP3 with the ID3v2 tag in front. The first frame says how many samples of delay and padding a player has to cut
/// off, so that tracks that belong together play without a gap.
/// </summary>
public sealed class Mp3Writer : IPcmWriter
{
    /// <summary>libav states constant quality in units of its quantiser scale (FF_QP2LAMBDA).</summary>
    private const int QualityUnit = 118;

    private readonly Stream _stream;
    private readonly LibAvEncoder _encoder;
    private readonly LibAvOutput _output;
    private readonly long _firstFrame;
    private long _soundFrames;

    /// <param name="stream">Seekable, written from its position 0 and owned from now on.</param>
    /// <param name="format">Mono or stereo at a rate that MP3 has.</param>
    public Mp3Writer(Stream stream, PcmFormat format, TagSet tags, Mp3Quality quality)
    {
        _stream = stream;
        stream.Write(Id3v2Writer.Write(tags));
        _firstFrame = stream.Position;
        _encoder = new LibAvEncoder("libmp3lame", format, SampleFormatFor(format), OptionsFor(quality, format.Rate.Hertz), TakePacket);
        _output = new LibAvOutput(stream, "mp3", _encoder, new Dictionary<string, string> { ["id3v2_version"] = "0", ["write_id3v1"] = "0", ["write_xing"] = "1" });
    }

    public PcmFormat Format => _encoder.Input;

    public void Write(SampleBuffer block)
    {
        _encoder.Write(block);
        _soundFrames += block.FrameCount;
    }

    public void Complete()
    {
        _encoder.Complete();
        _output.Complete();
        if (!Mp3InfoFrame.StateLength(_stream, _firstFrame, _soundFrames))
            throw new CodecException("The encoded MP3 has no frame that could state its length.");
        _stream.Flush();
    }

    public void Dispose()
    {
        _output.Dispose();
        _encoder.Dispose();
        _stream.Dispose();
    }

    private static AvSampleFormat SampleFormatFor(PcmFormat format) =>
        format.IsFloat ? AvSampleFormat.FloatPlanar : format.Bits <= 16 ? AvSampleFormat.S16Planar : AvSampleFormat.S32Planar;

    private static Dictionary<string, string> OptionsFor(Mp3Quality quality, int hertz) => quality.IsVariable
        ? new() { ["flags"] = "+qscale", ["global_quality"] = (quality.Value * QualityUnit).ToString(CultureInfo.InvariantCulture) }
        : new() { ["b"] = (quality.KilobitsPerSecond(hertz) * 1000).ToString(CultureInfo.InvariantCulture) };

    private void TakePacket(nint packet) => _output.Write(packet);
}
