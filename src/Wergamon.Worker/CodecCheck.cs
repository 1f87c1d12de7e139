using System.Collections.Frozen;
using Wergamon.Codecs;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Tags;

namespace Wergamon.Worker;

/// <summary>
/// Encodes a known second of sound in every format that is offered and decodes it again, so that a codec of this machine that does
/// not do what it should is found before it has music to work on.
/// </summary>
internal static class CodecCheck
{
    /// <summary>All formats hold this.</summary>
    private static readonly PcmFormat Format = new(new SampleRate(48_000), 2, 16);

    /// <summary>Lossy formats keep a plain tone far better than this; shifted by two samples it is worse.</summary>
    private const double LeastDecibels = 12;

    private static readonly FrozenDictionary<WritableFormat, Lazy<string?>> Results = FileFormats.Writable.ToFrozenDictionary(
        format => format, format => new Lazy<string?>(() => Check(format)));

    /// <summary>Checks all formats in the background; a job that needs one earlier waits for that one.</summary>
    public static void Begin() => new Thread(() =>
    {
        foreach (var result in Results.Values)
            _ = result.Value;
    })
    { IsBackground = true, Priority = ThreadPriority.BelowNormal }.Start();

    /// <summary>What is wrong with the codec of a format, for a person; null when nothing is.</summary>
    public static string? ComplaintOf(WritableFormat format) => Results[format].Value;

    /// <summary>The left channel rises from 200 to 3,000 Hz, the right one falls: no shift, and no exchange, goes unnoticed.</summary>
    internal static SampleBuffer KnownSound()
    {
        const double Low = 200, High = 3_000, Level = 16_000;
        int frames = Format.Rate.Hertz;
        var block = new SampleBuffer(Format, frames) { FrameCount = frames };
        for (int i = 0; i < frames; i++)
        {
            double time = (double)i / frames, sweep = (High - Low) / 2 * time * time;
            block.Integers[2 * i] = (int)(Level * Math.Sin(Math.Tau * (Low * time + sweep)));
            block.Integers[2 * i + 1] = (int)(Level * Math.Sin(Math.Tau * (High * time - sweep)));
        }

        return block;
    }

    /// <summary>How what was decoded differs from what was encoded; null when it is as it should be.</summary>
    internal static string? Judge(SampleBuffer known, IReadOnlyList<double> decoded, bool isLossy)
    {
        var expected = known.Integers;
        if (decoded.Count != expected.Length)
            return $"{decoded.Count / Format.Channels} samples came back where {expected.Length / Format.Channels} went in";
        double signal = 0, error = 0;
        for (int i = 0; i < expected.Length; i++)
        {
            signal += (double)expected[i] * expected[i];
            error += (decoded[i] - expected[i]) * (decoded[i] - expected[i]);
        }

        return (isLossy ? error * Math.Pow(10, LeastDecibels / 10) < signal : error == 0) ? null : "what came back is not what went in";
    }

    private static string? Check(WritableFormat format)
    {
        try
        {
            var known = KnownSound();
            var file = new MemoryStream();
            using (var writer = AudioFiles.Create(file, Format, new TagSet(), format.UsualSettings))
            {
                writer.Write(known);
                writer.Complete();
            }

            using var reader = AudioFiles.Open(new MemoryStream(file.ToArray()));
            var fault = Judge(known, ReadAll(reader), format.IsLossy);
            return fault is null
                ? null
                : $"The {format.Name} codec on this machine does not work correctly: {fault}. Nothing is converted to {format.Name} here.";
        }
        catch (Exception failure) when (failure is CodecException or UnreadableAudioException)
        {
            return $"The {format.Name} codec on this machine does not work: {failure.Message}";
        }
    }

    /// <summary>All samples on the scale of 16 bits.</summary>
    private static List<double> ReadAll(IPcmReader reader)
    {
        var all = new List<double>();
        var block = new SampleBuffer(reader.Format);
        while (reader.Read(block) > 0)
        {
            foreach (int sample in reader.Format.IsFloat ? [] : block.Integers)
                all.Add(sample);
            foreach (float sample in reader.Format is { IsFloat: true, Bits: 32 } ? block.Floats : [])
                all.Add(sample * 32_768.0);
        }

        return all;
    }
}
