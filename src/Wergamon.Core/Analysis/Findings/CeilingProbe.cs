using System.Globalization;
using Wergamon.Core.Audio;

namespace Wergamon.Core.Analysis.Findings;

/// <summary>Finds peaks that are cut flat: several samples in a row at one ceiling.</summary>
/// <remarks>Thresholds are ours: no source.</remarks>
internal sealed class CeilingProbe(PcmFormat format) : ChannelProbe<CeilingProbe.Channel>(format)
{
    private const int MinRun = 3, MinRuns = 5;

    /// <summary>A wave that stands at its ceiling this much is meant to be square.</summary>
    private const double MaxShare = 0.2, MinCeiling = 0.5;

    public override IEnumerable<Finding> Findings()
    {
        var cut = Channels.Where(
            channel => channel.Runs >= MinRuns && channel.Ceiling >= MinCeiling && channel.AtCeiling < MaxShare * FrameCount).ToList();
        if (cut.Count == 0)
            yield break;
        double ceiling = cut.Max(channel => channel.Ceiling);
        bool isFull = ceiling >= 1 - 2.0 / (1L << Math.Min(23, Format.Bits - 1));
        yield return new Finding(
            FindingKind.Clipped, cut.Sum(channel => channel.Runs) >= 10 * MinRuns ? Sureness.Certain : Sureness.Likely,
            string.Create(
                CultureInfo.InvariantCulture,
                $"{cut.Sum(channel => channel.Runs):N0} peaks are flat at {Decibels.FromGain(ceiling):0.0} dBFS, "
                    + $"{cut.Sum(channel => channel.AtCeiling):N0} samples in all."),
            isFull ? "The audio was clipped at full scale." : "It was clipped or limited before its level was lowered.")
        { Seconds = (double)cut.Min(channel => channel.First) / Format.Rate.Hertz };
    }

    internal sealed class Channel : IChannelProbe
    {
        private float _last;
        private int _run;

        public float Ceiling { get; private set; }

        public int Runs { get; private set; }

        public long AtCeiling { get; private set; }

        public long First { get; private set; }

        public void Append(float sample, long frame)
        {
            float height = Math.Abs(sample);
            if (height > Ceiling)
                (Ceiling, Runs, AtCeiling, _run) = (height, 0, 0, 0);
            if (height < Ceiling || sample != _last)
                _run = 0;
            _last = sample;
            if (height < Ceiling)
                return;
            AtCeiling++;
            if (++_run != MinRun)
                return;
            if (Runs++ == 0)
                First = frame - MinRun + 1;
        }
    }
}
