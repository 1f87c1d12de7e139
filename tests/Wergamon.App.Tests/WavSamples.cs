using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Wav;

namespace Wergamon.App.Tests;

/// <summary>Samples of WAV files, for comparisons.</summary>
internal static class WavSamples
{
    /// <summary>All samples, the channels in turn.</summary>
    public static List<int> Of(string path)
    {
        using var reader = new WavReader(File.OpenRead(path));
        var block = new SampleBuffer(reader.Format);
        var samples = new List<int>();
        for (int frames; (frames = reader.Read(block)) > 0;)
            samples.AddRange(block.Integers[..(frames * reader.Format.Channels)]);
        return samples;
    }
}
