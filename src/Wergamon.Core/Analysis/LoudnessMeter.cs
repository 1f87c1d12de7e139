using Wergamon.Core.Audio;

namespace Wergamon.Core.Analysis;

/// <summary>
/// Measures loudness and true peak (ITU-R BS.1770-4) and loudness range (EBU Tech 3342) block by block.
/// </summary>
public sealed class LoudnessMeter
{
    /// <summary>The step of all blocks: a tenth of a second.</summary>
    private const int StepsPerSecond = 10, StepsPerBlock = 4, StepsPerShortTerm = 30, StepsBetweenShortTerms = 10;

    private const double SurroundWeight = 1.41;

    private readonly FloatSamples _floats = new();
    private readonly TruePeakMeter _truePeak;
    private readonly KWeighting[] _filters;
    private readonly double[] _weights;
    private readonly int _channels, _framesPerStep;
    private readonly List<double> _steps = [];
    private double _energy;
    private int _frames;

    /// <param name="format">Format of the samples.</param>
    public LoudnessMeter(PcmFormat format)
    {
        _channels = format.Channels;
        _weights = WeightsOf(format);
        _filters = [
            .. Enumerable.Range(0, (_channels + KWeighting.MaxChannels - 1) / KWeighting.MaxChannels)
                .Select(_ => new KWeighting(format.Rate))
        ];
        _framesPerStep = Math.Max(1, (format.Rate.Hertz + StepsPerSecond / 2) / StepsPerSecond);
        _truePeak = new TruePeakMeter(format);
    }

    /// <summary>Reads a source to its end.</summary>
    /// <param name="report">Called with the frames read so far.</param>
    public static Loudness Measure(IPcmReader reader, Action<long> report)
    {
        var meter = new LoudnessMeter(reader.Format);
        var block = new SampleBuffer(reader.Format);
        for (long frames = 0; reader.Read(block) > 0;)
        {
            meter.Append(block);
            report(frames += block.FrameCount);
        }

        return meter.Finish();
    }

    public void Append(SampleBuffer block) => Append(_floats.Of(block));

    /// <param name="samples">Interleaved whole frames; full scale is 1.</param>
    public void Append(ReadOnlySpan<float> samples)
    {
        _truePeak.Append(samples);
        while (samples.Length > 0)
        {
            int take = Math.Min(samples.Length / _channels, _framesPerStep - _frames);
            Weigh(samples[..(take * _channels)]);
            samples = samples[(take * _channels)..];
            Count(take);
        }
    }

    /// <summary>Appends to two meters of one rate and of as many channels; stereo costs little more than for one of them.</summary>
    /// <param name="ones">As many samples as <paramref name="others"/>.</param>
    internal static void AppendBoth(LoudnessMeter one, LoudnessMeter other, ReadOnlySpan<float> ones, ReadOnlySpan<float> others)
    {
        const int Stereo = 2;
        if (one._channels != Stereo)
        {
            one.Append(ones);
            other.Append(others);
            return;
        }

        one._truePeak.Append(ones);
        other._truePeak.Append(others);
        for (int at = 0; at < ones.Length;)
        {
            // They may have begun at different times.
            int take = Math.Min(
                (ones.Length - at) / Stereo, Math.Min(one._framesPerStep - one._frames, other._framesPerStep - other._frames));
            var sums = KWeighting.SumOfSquares(
                one._filters[0], other._filters[0], ones.Slice(at, take * Stereo), others.Slice(at, take * Stereo));
            one._energy += sums[0] * one._weights[0] + sums[1] * one._weights[1];
            other._energy += sums[2] * other._weights[0] + sums[3] * other._weights[1];
            one.Count(take);
            other.Count(take);
            at += take * Stereo;
        }
    }

    /// <summary>What was measured. A rest that fills no block is left out, as the standard says.</summary>
    public Loudness Finish()
    {
        _truePeak.Finish();
        var blocks = Blocks(StepsPerBlock, 1);
        var histogram = new LoudnessHistogram();
        foreach (double energy in blocks)
            histogram.Add(energy);
        return new Loudness(
            LoudnessGate.Integrated(blocks), LoudnessGate.Range(Blocks(StepsPerShortTerm, StepsBetweenShortTerms)), _truePeak.Peak,
            histogram.ToBytes());
    }

    private void Count(int frames)
    {
        if ((_frames += frames) < _framesPerStep)
            return;
        _steps.Add(_energy);
        (_energy, _frames) = (0, 0);
    }

    private void Weigh(ReadOnlySpan<float> samples)
    {
        for (int filter = 0; filter < _filters.Length; filter++)
        {
            int first = filter * KWeighting.MaxChannels;
            var sums = _filters[filter].SumOfSquares(samples, _channels, first);
            for (int lane = 0; lane < Math.Min(KWeighting.MaxChannels, _channels - first); lane++)
                _energy += sums[lane] * _weights[first + lane];
        }
    }

    /// <summary>Mean energies of blocks of several steps.</summary>
    private List<double> Blocks(int steps, int apart)
    {
        var blocks = new List<double>();
        for (int at = 0; at + steps <= _steps.Count; at += apart)
        {
            double sum = 0;
            for (int i = at; i < at + steps; i++)
                sum += _steps[i];
            blocks.Add(sum / ((double)steps * _framesPerStep));
        }

        return blocks;
    }

    /// <summary>
    /// 1.41 for speakers at 60 to 120 degrees, none for low frequencies, otherwise 1 (annex 3, table 4). A pair called back without
    /// one at the sides stands at 110 degrees.
    /// </summary>
    private static double[] WeightsOf(PcmFormat format)
    {
        var roles = format.Roles.WithSurroundsAtBack();
        bool hasSides = (roles & (ChannelRoles.SideLeft | ChannelRoles.SideRight)) != 0;
        var order = roles.InOrder();
        return order.Count != format.Channels
            ? [.. Enumerable.Repeat(1.0, format.Channels)]
            : [.. order.Select(role => role switch
            {
                ChannelRoles.LowFrequency => 0,
                ChannelRoles.SideLeft or ChannelRoles.SideRight => SurroundWeight,
                ChannelRoles.BackLeft or ChannelRoles.BackRight => hasSides ? 1 : SurroundWeight,
                _ => 1,
            })];
    }
}
