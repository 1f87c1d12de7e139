using Wergamon.Codecs;
using Wergamon.Core.Audio;
using Wergamon.Core.Jobs;
using Wergamon.Core.Tags;

namespace Wergamon.Worker;

/// <summary>Reads a finished file back from disk and compares it with what was meant to be in it.</summary>
internal sealed class ProofReading(ConvertJob job, TagSet tags, Action<long, bool> tell)
{
    public Proof Read(Encoded written, double? foldGainDecibels)
    {
        bool lossless = job.OutputKind != FileKind.Mp3;
        var (md5, frames, rate) = ReadSound();
        if (frames != written.Frames)
            throw new ProofException($"The new file has {frames} samples where {written.Frames} went in.");
        if (lossless && md5 != written.SampleMd5)
            throw new ProofException("The new file does not give back the samples that went in.");
        var (fields, pictures) = CompareTags();
        return new Proof(
            lossless, written.Frames, frames, written.SampleMd5, lossless ? md5 : null, fields, pictures,
            new FileInfo(job.OutputPath).Length, rate, foldGainDecibels, written.ClippedSamples, written.SourceDamage);
    }

    private (string Md5, long Frames, int KilobitsPerSecond) ReadSound()
    {
        using var reader = SoundFiles.Open(job.OutputPath);
        using var digest = new SampleDigest();
        var block = new SampleBuffer(reader.Format);
        bool lossy = job.OutputKind == FileKind.Mp3;
        long frames = 0;
        while (reader.Read(block) is > 0 and var got)
        {
            frames += got;
            if (!lossy)
                digest.Append(block);
            tell(frames, true);
        }

        if (reader.Damage.Count > 0)
            throw new ProofException("The new file does not read back whole: " + reader.Damage[0]);
        int rate = reader is LibAvReader { KilobitsPerSecond: > 0 } coded ? coded.KilobitsPerSecond : (int)Math.Round(reader.Format.BitRate / 1000.0);
        return (digest.Finish(), frames, rate);
    }

    private (int Fields, int Pictures) CompareTags()
    {
        using var stream = File.OpenRead(job.OutputPath);
        var reading = TagFile.Read(stream);
        if (reading.Damage.Count > 0)
            throw new ProofException("The tags do not read back whole: " + reading.Damage[0]);
        foreach (var field in tags.Fields)
        {
            if (!reading.Tags[field.Name].SequenceEqual(field.Values))
                throw new ProofException($"The tag \"{field.Name}\" reads back as \"{string.Join("; ", reading.Tags[field.Name])}\", not as \"{string.Join("; ", field.Values)}\".");
        }

        if (!reading.Tags.Pictures.SequenceEqual(tags.Pictures))
            throw new ProofException("The pictures do not read back as they were written.");
        if (!reading.Tags.Opaque.Select(field => (field.Id, Convert.ToHexString(field.Data.Span))).SequenceEqual(tags.Opaque.Select(field => (field.Id, Convert.ToHexString(field.Data.Span)))))
            throw new ProofException("The private fields of the tag do not read back as they were written.");
        return (tags.Fields.Count + tags.Opaque.Count, tags.Pictures.Count);
    }
}
