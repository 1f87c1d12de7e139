using Wergamon.Core.Audio;

namespace Wergamon.Testing;

public static class SoundCopying
{
    /// <summary>Copies a reader to a writer and completes it; returns the MD5 of the samples.</summary>
    public static string CopyTo(this IPcmReader reader, IPcmWriter writer)
    {
        using var digest = new SampleDigest();
        var block = new SampleBuffer(reader.Format);
        while (reader.Read(block) > 0)
        {
            digest.Append(block);
            writer.Write(block);
        }

        writer.Complete();
        return digest.Finish();
    }

    /// <summary>All samples of a reader of 64-bit floats, interleaved.</summary>
    public static double[] AllDoubles(this IPcmReader reader)
    {
        var all = new List<double>();
        var block = new SampleBuffer(reader.Format);
        while (reader.Read(block) > 0)
            all.AddRange(block.Doubles);
        return [.. all];
    }
}
