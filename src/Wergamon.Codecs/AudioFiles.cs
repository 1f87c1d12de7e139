using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Steps;
using Wergamon.Core.Bytes;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Mp3;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Tags;

namespace Wergamon.Codecs;

/// <summary>Opens any audio file: WAV and AIFF with Core's readers, everything else through libav.</summary>
public static class AudioFiles
{
    private static readonly HashSet<string> LosslessCodecs = [
        "flac", "alac", "ape", "wavpack", "tta", "wmalossless", "mlp", "truehd", "shorten", "tak"
    ];

    /// <summary>More streams of sound are not listed.</summary>
    private const int MaxStreams = 64;

    /// <summary>PCM on a logarithmic scale (ITU-T G.711).</summary>
    private static readonly HashSet<string> CompandedCodecs = ["pcm_alaw", "pcm_mulaw", "pcm_vidc"];

    /// <exception cref="UnreadableAudioException">It holds no audio that can be decoded.</exception>
    public static IPcmReader Open(string path) => Open(path, null);

    /// <param name="sound">Which of several audio streams, from 0; null for the default one.</param>
    /// <exception cref="UnreadableAudioException">It holds no such audio, or none that can be decoded.</exception>
    public static IPcmReader Open(string path, int? sound) => Finite(OpenAsItIs(path, sound));

    private static IPcmReader OpenAsItIs(string path, int? sound)
    {
        if (sound is not null)
            return new LibAvReader(path, sound);
        AudioFacts? padded;
        var stream = PlainFile.OpenRead(path);
        bool isKept = false;
        try
        {
            if (FileFormats.OpenPcm(stream) is { } samples)
            {
                isKept = true;
                return samples;
            }

            bool isMp3 = FileFormats.Of(stream) is Mp3Format;
            if (isMp3 && Mp3Format.IsFreeFormat(stream))
                return new FreeFormatReader(path);
            if (isMp3 && Mp3Format.EndOfSound(stream) is var end && end < stream.Length)
            {
                var reader = new LibAvReader(new PartStream(stream, 0, end), stream);
                isKept = true;
                return reader;
            }

            padded = FileFormats.FactsOfPadded(stream);
        }
        finally
        {
            if (!isKept)
                stream.Dispose();
        }

        return WithoutPadding(new LibAvReader(path), padded);
    }

    /// <summary>Opens a file in memory.</summary>
    /// <param name="stream">Seekable; owned from now on.</param>
    /// <exception cref="UnreadableAudioException">It holds no audio that can be decoded.</exception>
    public static IPcmReader Open(MemoryStream stream)
    {
        if (FileFormats.OpenPcm(stream) is { } reader)
            return Finite(reader);
        var padded = FileFormats.FactsOfPadded(stream);
        stream.Position = 0;
        return Finite(WithoutPadding(new LibAvReader(stream), padded));
    }

    private static IPcmReader Finite(IPcmReader reader) => reader.Format.IsFloat ? new FiniteReader(reader) : reader;

    private static IPcmReader WithoutPadding(LibAvReader decoder, AudioFacts? padded) =>
        padded?.Format.Rate == decoder.Format.Rate ? new PaddingCutter(decoder, padded.FrameCount) : decoder;

    /// <summary>Starts a file in the format of the settings.</summary>
    /// <param name="stream">Seekable, written from its position 0 and owned from now on.</param>
    /// <exception cref="CodecException">The encoder refuses.</exception>
    public static IPcmWriter Create(
        Stream stream, PcmFormat input, TagSet tags, EncoderSettings settings, TagWriteOptions? options = null) =>
        settings.Format.OpenWriter(stream, input, tags, settings, LibAvEncoders.Instance, options);

    /// <summary>Starts a file that gets the coded sound of another one unchanged.</summary>
    /// <param name="sourcePath">Where the sound is; of a codec that the format can carry.</param>
    /// <param name="sound">Which of several audio streams, from 0; null for the default one.</param>
    /// <param name="stream">Seekable, written from its position 0 and owned from now on.</param>
    /// <param name="input">Format of the samples that the sound decodes to.</param>
    /// <exception cref="CodecException">The sound does not go into the format.</exception>
    /// <exception cref="UnreadableAudioException">It cannot be read.</exception>
    public static IPcmWriter Carry(
        string sourcePath, int? sound, Stream stream, PcmFormat input, TagSet tags, WritableFormat format, TagWriteOptions? options = null)
    {
        if (sound is null && IsWholeOf(sourcePath, format))
            return format.OpenRewriter(stream, PlainFile.OpenRead(sourcePath), input, tags, options);
        var packets = new LibAvPackets(sourcePath, sound);
        try
        {
            return format.OpenCarrier(stream, input, tags, packets);
        }
        catch
        {
            packets.Dispose();
            throw;
        }
    }

    /// <summary>Facts of a file from libav, with those of each of its streams if it has several.</summary>
    /// <param name="tell">Called with the samples of one channel that were decoded, while a file is read to its end.</param>
    public static AudioFacts Probe(string path, Action<long>? tell = null)
    {
        var format = FormatOf(path);
        using var reader = new LibAvReader(path);
        var heard = Probe(reader, path, format, null, tell);
        if (reader.SoundCount == 1)
            return heard;
        var streams = new List<SoundStream>();
        for (int sound = 0; sound < Math.Min(reader.SoundCount, MaxStreams); sound++)
        {
            try
            {
                using var other = new LibAvReader(path, sound);
                streams.Add(new SoundStream(other.StreamName, sound == reader.Sound, Probe(other, path, format, sound, tell)));
            }
            catch (UnreadableAudioException)
            {
                // A stream that cannot be decoded keeps its place, so that the numbers of those behind it hold; choosing it says why not.
                streams.Add(new SoundStream("not readable", false, heard with { FrameCount = 0 }));
            }
        }

        return heard with { Streams = streams };
    }

    /// <summary>If the header leaves the length open, the file is read to its end.</summary>
    private static AudioFacts Probe(LibAvReader reader, string path, FileFormat? format, int? sound, Action<long>? tell)
    {
        bool lossless = LosslessCodecs.Contains(reader.CodecName)
            || reader.CodecName.StartsWith("pcm_", StringComparison.Ordinal) && !CompandedCodecs.Contains(reader.CodecName);
        long frames = reader.FrameCount ?? CountFrames(reader, tell);
        if (frames == 0)
            throw new UnreadableAudioException("The file has a header but no audio.");
        int rate = reader.KilobitsPerSecond;
        if (rate == 0)
        {
            using var packets = new LibAvPackets(path, sound);
            rate = packets.MeasureKilobits(reader.Format.Duration(frames));
        }

        return new AudioFacts(format, TradeName(reader.CodecName), reader.Format, frames, lossless, rate) { Damage = [.. reader.Damage] };
    }

    private static bool IsWholeOf(string path, WritableFormat format)
    {
        using var stream = PlainFile.OpenRead(path);
        return FileFormats.Of(stream) == format && format.IsWhole(stream);
    }

    private static FileFormat? FormatOf(string path)
    {
        using var stream = PlainFile.OpenRead(path);
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

    private static long CountFrames(LibAvReader reader, Action<long>? tell)
    {
        var block = new SampleBuffer(reader.Format);
        long frames = 0;
        while (reader.Read(block) is > 0 and var got)
        {
            frames += got;
            tell?.Invoke(frames);
        }

        return frames;
    }
}
