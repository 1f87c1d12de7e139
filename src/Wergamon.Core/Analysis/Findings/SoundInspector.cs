using System.Globalization;
using Wergamon.Core.Audio;

namespace Wergamon.Core.Analysis.Findings;

/// <summary>Reads a sound once and says what it may be other than its file says. Nothing is claimed that was not measured.</summary>
public static class SoundInspector
{
    private const int BlocksPerReport = 64;

    /// <param name="reader">Any audio; stays open.</param>
    /// <param name="isLossless">Whether the file claims to be without loss; a lossy file is not told that it is lossy.</param>
    /// <param name="report">Called from time to time with the frames read so far.</param>
    public static Inspection Inspect(IPcmReader reader, bool isLossless, Action<long> report)
    {
        var format = reader.Format;
        var top = new TopEdge(format);
        var rate = new SpectralEdge(format);
        List<ISoundProbe> probes = [new StereoProbe(format), new CeilingProbe(format), new GapProbe(format), new ClickProbe(format)];
        var block = new SampleBuffer(format);
        var floats = new FloatSamples();
        long frames = 0;
        int used = 0;
        for (int blocks = 1; reader.Read(block) > 0; blocks++)
        {
            var samples = floats.Of(block);
            top.Append(samples);
            rate.Append(samples);
            foreach (var probe in probes)
                probe.Append(samples);
            if (!format.IsFloat)
                used |= AudioAnalyser.AnyBits(block.Integers);
            frames += block.FrameCount;
            if (blocks % BlocksPerReport == 0)
                report(frames);
        }

        var findings = new List<Finding>();
        if (UpsampledFrom(rate.RealRate(), format) is { } upsampled)
            findings.Add(upsampled);
        else if (isLossless)
            findings.AddRange(top.Findings());
        if (PaddedBits(used, format) is { } padded)
            findings.Add(padded);
        findings.AddRange(probes.SelectMany(probe => probe.Findings()));
        var edges = SpectrumBands.Edges(format.Rate.Hertz);
        return new Inspection([.. findings.OrderByDescending(finding => finding.Sureness)], edges, top.Levels(edges));
    }

    private static Finding? UpsampledFrom(int realRate, PcmFormat format)
    {
        if (realRate >= format.Rate.Hertz)
            return null;
        var real = new SampleRate(realRate);
        return new Finding(
            FindingKind.Upsampled, Sureness.Likely,
            string.Create(CultureInfo.InvariantCulture, $"There is nothing above {realRate / 2000.0:0.#} kHz."),
            $"That is the limit of {real}: the file says {format.Rate}, and the rest is empty.")
        { Hertz = realRate / 2.0 };
    }

    private static Finding? PaddedBits(int used, PcmFormat format)
    {
        if (format.IsFloat || used == 0)
            return null;
        int bits = format.Bits - System.Numerics.BitOperations.TrailingZeroCount(used);
        return bits >= format.Bits ? null : new Finding(
            FindingKind.PaddedBits, Sureness.Certain, $"The lowest {format.Bits - bits} of {format.Bits} bits are zero in every sample.",
            $"{bits} bits hold all of it without loss.");
    }
}
