using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Tags;

namespace Wergamon.Codecs;

/// <summary>Opens any audio file: WAV and AIFF with Core's readers, everything else through libav.</summary>
public static class AudioFiles
{
    private static readonly HashSet<string> LosslessCodecs = ["flac", "alac", "ape", "wavpack", "tta", "wmalossless", "mlp", "truehd", "shorten", "tak"];

    /// <summary>PCM on a logarithmic scale (ITU-T G.711).</summary>
    private static readonly HashSet<string> CompandedCodecs = ["pcm_alaw", "pcm_mulaw", "pcm_vidc"];

    /// <exception cref="UnreadableAudioException">It holds no audio that can be decoded.</exception>
    public static IPcmReader Open(string path)
    {
        AudioFacts? padded;
        var stream = File.OpenRead(path);
        try
        {
            if (FileFormats.OpenPcm(stream) is { } reader)
                return reader;
            padded = FileFormats.FactsOfPadded(stream);
        }
        catch
        {
            stream.Dispose();
            throw;
        }

        stream.Dispose();
        var decoder = new LibAvReader(path);
        return padded?.Format.Rate == decoder.Format.Rate ? new PaddingCutter(decoder, padded.FrameCount) : decoder;
    }

    /// <summary>Starts a file in the format of the settings.</summary>
    /// <param name="stream">Seekable, written from its position 0 and owned from now on.</param>
    /// <exception cref="CodecException">The encoder refuses.</exception>
    public static IPcmWriter Create(Stream stream, PcmFormat input, TagSet tags, EncoderSettings settings) =>
        settings.Format.OpenWriter(stream, input, tags, settings, LibAvEncoders.Instance);

    /// <summary>Facts of a file from libav. If its header leaves the length open, the file is read to its end.</summary>
    public static AudioFacts Probe(string path)
    {
        using var reader = new LibAvReader(path);
        bool lossless = LosslessCodecs.Contains(reader.CodecName) || reader.CodecName.StartsWith("pcm_", StringComparison.Ordinal) && !CompandedCodecs.Contains(reader.CodecName);
        long frames = reader.FrameCount ?? CountFrames(reader);
        if (frames == 0)
            throw new UnreadableAudioException("The file has a header but no sound.");
        int rate = reader.KilobitsPerSecond > 0
            ? reader.KilobitsPerSecond
            : (int)(new FileInfo(path).Length * 8 / 1000 / Math.Max(0.001, reader.Format.Duration(frames).TotalSeconds));
        return new AudioFacts(FormatOf(path), TradeName(reader.CodecName), reader.Format, frames, lossless, rate) { Damage = reader.Damage };
    }

    private static FileFormat? FormatOf(string path)
    {
        using var stream = File.OpenRead(path);
        try
        {
            return FileFormats.Of(stream);
        }
        catch (UnreadableAudioException)
        {
            // The decoder may still make something of it.
            return null;
        }
    }

    private static string TradeName(string codec) => codec switch
    {
        "vorbis" => "Vorbis",
        "opus" => "Opus",
        "wavpack" => "WavPack",
        "wmav1" or "wmav2" => "WMA",
        "wmapro" => "WMA Pro",
        "wmavoice" => "WMA Voice",
        "wmalossless" => "WMA Lossless",
        "pcm_alaw" => "A-law",
        "pcm_mulaw" => "µ-law",
        _ when codec.StartsWith("adpcm_", StringComparison.Ordinal) => "ADPCM",
        _ when codec.StartsWith("pcm_", StringComparison.Ordinal) => "PCM",
        _ => codec.ToUpperInvariant(),
    };

    private static long CountFrames(LibAvReader reader)
    {
        var block = new SampleBuffer(reader.Format);
        long frames = 0;
        while (reader.Read(block) is > 0 and var got)
            frames += got;
        return frames;
    }
}
