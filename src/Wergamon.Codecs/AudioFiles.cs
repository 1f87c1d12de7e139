using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Tags;

namespace Wergamon.Codecs;

/// <summary>Opens any sound file: WAV and AIFF by Core's own readers, everything else through libav.</summary>
public static class AudioFiles
{
    private static readonly HashSet<string> LosslessCodecs = ["flac", "alac", "ape", "wavpack", "tta", "wmalossless", "mlp", "truehd", "shorten", "tak"];

    /// <exception cref="UnreadableAudioException">There is no sound in it that could be decoded.</exception>
    public static IPcmReader Open(string path)
    {
        var stream = File.OpenRead(path);
        try
        {
            if (FileFormats.OpenPcm(stream) is { } reader)
                return reader;
        }
        catch
        {
            stream.Dispose();
            throw;
        }

        stream.Dispose();
        return new LibAvReader(path);
    }

    /// <summary>Starts a file of the format that the settings are of.</summary>
    /// <param name="stream">Seekable, written from its position 0 and owned from now on.</param>
    /// <exception cref="CodecException">The encoder refuses.</exception>
    public static IPcmWriter Create(Stream stream, PcmFormat input, TagSet tags, EncoderSettings settings) =>
        settings.Format.OpenWriter(stream, input, tags, settings, LibAvEncoders.Instance);

    /// <summary>What libav says of a file. Where its header leaves the length open, the file is read to its end.</summary>
    public static AudioFacts Probe(string path)
    {
        using var reader = new LibAvReader(path);
        bool lossless = LosslessCodecs.Contains(reader.CodecName) || reader.CodecName.StartsWith("pcm_", StringComparison.Ordinal);
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
            // The decoder makes something of it all the same.
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
