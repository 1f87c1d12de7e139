using Wergamon.Codecs;
using Wergamon.Core.Analysis;
using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Steps;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Jobs;
using Wergamon.Core.Tags;

namespace Wergamon.Worker;

/// <summary>Reads a new file back and compares it with what was written.</summary>
internal sealed class ProofReading(ConvertJob job, TagSet tags)
{
    /// <summary>Decodes the finished file.</summary>
    public SoundRead ReadSound(Action<long> tell)
    {
        using var reader = AudioFiles.Open(job.OutputPath);
        return Read(reader, tell);
    }

    /// <summary>Decodes a file while it grows, to its end.</summary>
    public SoundRead ReadSound(Stream growing)
    {
        using var reader = new LibAvReader(growing);
        return Read(reader, _ => { });
    }

    public Proof Compare(Encoded written, SoundRead sound, double? fittingGainDecibels)
    {
        bool lossless = !job.Encoder.Format.IsLossy || job.IsCarried;
        // Copied sound that cannot be decoded is damaged in the source, too.
        if (sound.Damage.Count > 0 && !(job.IsCarried && written.SourceDamage.Count > 0))
            throw new ProofException("The new file does not read back completely: " + sound.Damage[0]);
        if (sound.Frames != written.Frames)
            throw new ProofException($"The new file has {sound.Frames} samples where {written.Frames} went in.");
        if (lossless && sound.Sum != written.Sum)
            throw new ProofException("The new file does not give back the samples that went in.");
        CompareHead(sound);
        var (fields, pictures) = CompareTags();
        long bytes = PlainFile.Length(job.OutputPath);
        int rate = sound.KilobitsPerSecond ?? (int)Math.Round(bytes * 8 / sound.Format.Duration(sound.Frames).TotalSeconds / 1000);
        return new Proof
        {
            IsLossless = lossless,
            FramesIn = written.Frames,
            FramesOut = sound.Frames,
            SampleMd5 = lossless && !sound.Format.IsFloat ? DigestOf(sound) : null,
            FieldsKept = fields,
            PicturesKept = pictures,
            Bytes = bytes,
            KilobitsPerSecond = rate,
            FittingGainDecibels = fittingGainDecibels,
            ClippedSamples = written.ClippedSamples,
            SourceDamage = written.SourceDamage,
        };
    }

    private SoundRead Read(IPcmReader reader, Action<long> tell)
    {
        // Samples that are proved equal to those of an analysed source need no analysis of their own.
        // The loudness of a lossy copy is measured when it is needed.
        using var analyser = job.ExpectedDigest is null
            ? new AudioAnalyser(reader.Format, measuresLoudness: !job.Encoder.Format.IsLossy)
            : null;
        var sum = new SampleSum();
        var block = new SampleBuffer(reader.Format);
        while (reader.Read(block) > 0)
        {
            sum.Append(block);
            analyser?.Append(block);
            tell(sum.Frames);
        }

        int? rate = DecoderOf(reader) is { } coded
            ? coded.KilobitsPerSecond > 0 ? coded.KilobitsPerSecond : null
            : (int)Math.Round(reader.Format.BitRate / 1000.0);
        return new SoundRead(reader.Format, sum.Frames, sum.Value, analyser?.Finish([]), rate, [.. reader.Damage]);
    }

    /// <summary>The decoder behind what mends its samples; null where the file holds the samples themselves.</summary>
    private static LibAvReader? DecoderOf(IPcmReader reader) => reader switch
    {
        LibAvReader decoder => decoder,
        FiniteReader finite => DecoderOf(finite.Source),
        PaddingCutter cutter => DecoderOf(cutter.Source),
        _ => null,
    };

    /// <summary>The header is written last: it is checked against the decoded audio.</summary>
    private void CompareHead(SoundRead sound)
    {
        using var stream = PlainFile.OpenRead(job.OutputPath);
        if (job.Encoder.Format.VerifyHeader(stream, sound.Frames, DigestOf(sound)) is { } fault)
            throw new ProofException(fault);
    }

    private string? DigestOf(SoundRead sound) => sound.Analysis?.Digest ?? job.ExpectedDigest;

    private (int Fields, int Pictures) CompareTags()
    {
        using var stream = PlainFile.OpenRead(job.OutputPath);
        var reading = FileReading.ReadTags(stream);
        if (reading.Damage.Count > 0)
            throw new ProofException("The tags do not read back completely: " + reading.Damage[0]);
        foreach (var field in tags.Fields)
        {
            if (!reading.Tags[field.Name].SequenceEqual(field.Values))
                throw new ProofException(
                    $"The tag \"{field.Name}\" reads back as \"{string.Join("; ", reading.Tags[field.Name])}\", not as "
                        + $"\"{string.Join("; ", field.Values)}\".");
        }

        if (!reading.Tags.Pictures.SequenceEqual(tags.Pictures))
            throw new ProofException("The pictures do not read back as they were written.");
        if (!Private(reading.Tags).SequenceEqual(Private(tags)))
            throw new ProofException("The private fields of the tag do not read back as they were written.");
        return (tags.Fields.Count + tags.Opaque.Count, tags.Pictures.Count);

        // Frames that belong to a field are written with it: their order among the others may change.
        static IEnumerable<(string Id, string Data)> Private(TagSet tags) =>
            tags.Opaque.Select(field => (field.Id, Convert.ToHexString(field.Data.Span))).Order();
    }
}

/// <summary>Result of decoding the new file.</summary>
/// <param name="Format">The shape of its samples.</param>
/// <param name="Frames">Their number in each channel.</param>
/// <param name="Sum">Comparable with the checksum of the input.</param>
/// <param name="Analysis">Taken in the same pass, so that the library need not decode the file again; null where it is known
/// beforehand.</param>
/// <param name="KilobitsPerSecond">Null when the file did not state it at the time.</param>
/// <param name="Damage">What could not be decoded.</param>
internal sealed record SoundRead(
    PcmFormat Format, long Frames, UInt128 Sum, AudioAnalysis? Analysis, int? KilobitsPerSecond, IReadOnlyList<string> Damage);
