namespace Wergamon.Core.Audio;

/// <summary>Finds samples that are exactly zero at the ends of a sound.</summary>
public static class DigitalSilence
{
    /// <summary>Reads a source to its end.</summary>
    /// <returns>The range between the silence at its start and at its end, and its length; an empty range where all of it is
    /// silent.</returns>
    public static (FrameRange Sound, long Length) Measure(IPcmReader source)
    {
        var block = new SampleBuffer(source.Format);
        long length = 0, first = -1, last = -1;
        while (source.Read(block) > 0)
        {
            if (first < 0 && FirstSound(block) is >= 0 and var start)
                first = length + start;
            if (LastSound(block) is >= 0 and var end)
                last = length + end;
            length += block.FrameCount;
        }

        return (first < 0 ? default : new FrameRange(first, last - first + 1), length);
    }

    private static int FirstSound(SampleBuffer block)
    {
        int at = !block.Format.IsFloat
            ? block.Integers.IndexOfAnyExcept(0)
            : block.Format.Bits == 64
            ? block.Doubles.IndexOfAnyExcept(0)
            : block.Floats.IndexOfAnyExcept(0);
        return at < 0 ? -1 : at / block.Format.Channels;
    }

    private static int LastSound(SampleBuffer block)
    {
        int at = !block.Format.IsFloat
            ? block.Integers.LastIndexOfAnyExcept(0)
            : block.Format.Bits == 64
            ? block.Doubles.LastIndexOfAnyExcept(0)
            : block.Floats.LastIndexOfAnyExcept(0);
        return at < 0 ? -1 : at / block.Format.Channels;
    }
}
