using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Aiff;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Formats.Wav;

namespace Wergamon.Codecs;

/// <summary>Opens any sound file: WAV and AIFF by Core's own readers, everything else through libav.</summary>
public static class AudioFiles
{
    private static readonly HashSet<string> LosslessCodecs = ["flac", "alac", "ape", "wavpack", "tta", "wmalossless", "mlp", "truehd", "shorten", "tak"];

    /// <exception cref="UnreadableAudioException">There is no sound in it that could be decoded.</exception>
    public static IPcmReader Open(string path)
    {
        Span<byte> start = stackalloc byte[12];
        using (var stream = File.OpenRead(path))
            start = start[..stream.ReadUpTo(start)];
        if (start.IsEmpty)
            throw new UnreadableAudioException("The file is empty.");
        if (WavReader.Recognises(start))
            return new WavReader(File.OpenRead(path));
        return AiffReader.Recognises(start) ? new AiffReader(File.OpenRead(path)) : new LibAvReader(path);
    }

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
        var kind = reader.CodecName switch { "flac" when IsBareFlac(path) => FileKind.Flac, "mp3" => FileKind.Mp3, _ => FileKind.Other };
        return new AudioFacts(kind, TradeName(reader.CodecName), reader.Format, frames, lossless, rate) { Damage = reader.Damage };
    }

    /// <summary>FLAC in other containers has other tags.</summary>
    private static bool IsBareFlac(string path)
    {
        using var stream = File.OpenRead(path);
        return FlacTags.FindStart(stream) is not null;
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
