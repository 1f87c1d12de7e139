using System.Numerics;

namespace Wergamon.Core.Music;

/// <summary>
/// Where the sound of a piece changes strongly, as when drums come in: the difference between what sounds in the seconds before and after
/// a moment (novelty of audio, Foote, Automatic audio segmentation using a measure of audio novelty, ICME 2000; here between the means of
/// both sides, which costs a linear pass).
/// </summary>
internal sealed class SoundChanges
{
    private const double FramesPerSecond = 20;
    private const double WindowSeconds = 0.09;
    private const double LowestHertz = 40, HighestHertz = 12_000;
    private const int BandsPerOctave = 3;
    private const float Compression = 1000;

    /// <summary>What is compared on either side of a moment.</summary>
    private const double SideSeconds = 8;

    /// <summary>Changes nearer to an end of the piece are its beginning and its end.</summary>
    private const double LeastSideSeconds = 7;

    /// <summary>Within this the moment is found again by comparing a second on either side.</summary>
    private const double PlaceSeconds = 1.5;

    /// <summary>Mean change of the logarithmic magnitudes below which nothing has changed to the ear: <em>ours, no source</em>.</summary>
    private const double LeastChange = 0.35;

    /// <summary>Share of the strongest change from which another is strong, too.</summary>
    private const double StrongShare = 0.6;

    private readonly SpectrumFrames _frames;
    private readonly (int From, int To)[] _bands;
    private readonly double _rate;
    private readonly List<double[]> _sums;

    public SoundChanges(int rate)
    {
        int hop = Math.Max(1, (int)Math.Round(rate / FramesPerSecond));
        int length = (int)BitOperations.RoundUpToPowerOf2((uint)Math.Max(256, rate * WindowSeconds * 0.75));
        _frames = new SpectrumFrames(length, hop, Take);
        _frames.Append(new float[length / 2]);
        _rate = (double)rate / hop;
        _bands = FrequencyBands.Of(LowestHertz, HighestHertz, BandsPerOctave, length, rate);
        _sums = [new double[_bands.Length]];
    }

    private int Count => _sums.Count - 1;

    public void Append(ReadOnlySpan<float> mono) => _frames.Append(mono);

    public void Finish() => _frames.Finish();

    /// <summary>Seconds to each strong change, in order.</summary>
    public IReadOnlyList<double> Strong()
    {
        int least = (int)(LeastSideSeconds * _rate), side = (int)(SideSeconds * _rate);
        var changes = new double[Math.Max(0, Count + 1)];
        for (int at = least; at <= Count - least; at++)
            changes[at] = ChangeAt(at, Math.Min(side, Math.Min(at, Count - at)));
        double threshold = Math.Max(LeastChange, StrongShare * changes.DefaultIfEmpty().Max());
        var strong = new List<double>();
        for (int at = least; at <= Count - least; at++)
        {
            if (changes[at] >= threshold && IsPeak(changes, at, side))
                strong.Add(PlaceNear(at) / _rate);
        }

        return strong;
    }

    private void Take(ReadOnlySpan<float> magnitudes)
    {
        var sum = (double[])_sums[^1].Clone();
        for (int band = 0; band < sum.Length; band++)
            sum[band] += MathF.Log(1 + Compression * FrequencyBands.Sum(magnitudes, _bands[band]));
        _sums.Add(sum);
    }

    /// <summary>Mean difference of the bands between what comes before a frame and what begins with it.</summary>
    private double ChangeAt(int at, int side)
    {
        double squares = 0;
        for (int band = 0; band < _bands.Length; band++)
        {
            double change = (_sums[at + side][band] - 2 * _sums[at][band] + _sums[at - side][band]) / side;
            squares += change * change;
        }

        return Math.Sqrt(squares / _bands.Length);
    }

    private static bool IsPeak(double[] changes, int at, int reach)
    {
        for (int other = Math.Max(0, at - reach); other < Math.Min(changes.Length, at + reach); other++)
        {
            if (changes[other] > changes[at] || (changes[other] == changes[at] && other < at))
                return false;
        }

        return true;
    }

    private double PlaceNear(int rough)
    {
        int reach = (int)(PlaceSeconds * _rate), side = (int)_rate, best = rough;
        double most = 0;
        for (int at = Math.Max(side, rough - reach); at <= Math.Min(Count - side, rough + reach); at++)
        {
            if (ChangeAt(at, side) is var change && change > most)
                (best, most) = (at, change);
        }

        return best;
    }
}
