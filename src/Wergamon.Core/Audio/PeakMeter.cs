namespace Wergamon.Core.Audio;

/// <summary>Sample peak of a source; full scale is 1.</summary>
public static class PeakMeter
{
    /// <summary>Reads the source to its end.</summary>
    /// <param name="reader">A source of 64-bit floats.</param>
    public static double Of(IPcmReader reader)
    {
        var block = new SampleBuffer(reader.Format);
        double peak = 0;
        while (reader.Read(block) > 0)
        {
            foreach (double sample in block.Doubles)
                peak = Math.Max(peak, Math.Abs(sample));
        }

        return peak;
    }
}
