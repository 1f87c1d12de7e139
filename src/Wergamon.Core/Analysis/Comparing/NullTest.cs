using System.Numerics;
using Wergamon.Core.Audio;

namespace Wergamon.Core.Analysis.Comparing;

/// <summary>
/// Subtracts one sound from another, both already aligned to the sample. The residue is the difference; silence means that they are
/// identical.
/// </summary>
public sealed class NullTest
{
    private const double MostOfIt = 0.8;

    private const int SpectrumWindows = 64;

    private readonly NullTestInput _firstInput, _secondInput;
    private readonly ISeekablePcm _first, _second;
    private readonly AlignedPair? _place;
    private readonly Action<double> _report;
    private readonly List<(PairEnergies Energies, int Samples)> _seconds = [];
    private long _equal;

    /// <summary>Of integers in steps of the finer of both formats, of floats relative to full scale.</summary>
    private long _maxDifference;
    private float _maxFloatDifference;

    private NullTest(NullTestInput first, NullTestInput second, AlignedPair? place, Action<double> report)
    {
        (_firstInput, _secondInput, _first, _second, _place, _report) = (first, second, first.Sound, second.Sound, place, report);
    }

    /// <param name="first">Stays open, as does the second.</param>
    /// <param name="second">Has the rate and channels of the first, and begins on one of its frames
    /// (<see cref="AlignedPair.FirstFrame"/>).</param>
    /// <param name="place">How they are aligned; null when that is not known, and both are taken from their starts.</param>
    /// <param name="matchesLevel">False to subtract the second as it is.</param>
    /// <param name="waveform">Gets the waveforms; see <see cref="PairWaveform"/>.</param>
    /// <param name="report">Called with the share that is done.</param>
    public static NullTestResult Run(
        NullTestInput first, NullTestInput second, AlignedPair? place, bool matchesLevel, Stream waveform, Action<double> report) =>
        new NullTest(first, second, place, report).Run(matchesLevel, waveform);

    private NullTestResult Run(bool matchesLevel, Stream waveform)
    {
        long offset = -(_place?.FirstFrame ?? 0);
        double gain = matchesLevel && _place is { IsFound: true } ? MatchingGain.Of(new AlignedSound(_first, _second, offset, 1)) : 1;
        return Measure(new AlignedSound(_first, _second, offset, gain), gain, waveform);
    }

    private NullTestResult Measure(AlignedSound sound, double gain, Stream waveform)
    {
        var (whole, overlap) = (sound.Whole, sound.Overlap);
        int channels = sound.Channels, rate = sound.Rate.Hertz;
        var waves = new PairWaveform.Writer(waveform, channels, whole.Start);
        var (first, second) = (new SoundMeter(_first.Format, _firstInput.Loudness), new SoundMeter(_second.Format, _secondInput.Loudness));
        (float Value, long Frame) peak = (0, 0);
        float firstBeyond = 0, secondBeyond = 0;
        foreach (var (start, count, index) in Parts(sound, rate))
        {
            sound.Read(start, count);
            waves.Append(sound.First, sound.Matched, sound.Residue);
            float secondPeak = waves.Peak(ComparedSignal.Second) / (float)Math.Abs(gain);
            bool isCommon = index >= 0;
            bool isInFirst = sound.FirstRange.Holds(start), isInSecond = sound.SecondRange.Holds(start);
            if (isCommon)
                SoundMeter.WeighBoth(first, second, sound.First, sound.Second);
            else if (isInFirst)
                first.Weigh(sound.First);
            else if (isInSecond)
                second.Weigh(sound.Second);
            if (isInFirst)
            {
                first.NotePeak(sound.First, waves.Peak(ComparedSignal.First));
                first.NoteBits(sound.Blocks.First);
                firstBeyond = isCommon ? firstBeyond : Math.Max(firstBeyond, waves.Peak(ComparedSignal.First));
            }

            if (isInSecond)
            {
                second.NotePeak(sound.Second, secondPeak);
                second.NoteBits(sound.Blocks.Second);
                secondBeyond = isCommon ? secondBeyond : Math.Max(secondBeyond, secondPeak);
            }

            if (isCommon)
            {
                CountEqual(sound);
                if (index == _seconds.Count)
                    _seconds.Add(default);
                _seconds[index] = (_seconds[index].Energies + sound.Energies, _seconds[index].Samples + sound.First.Length);
                float here = waves.Peak(ComparedSignal.Residue);
                if (here > peak.Value)
                    peak = (here, start + PlaceOf(sound.Residue, here) / channels);
            }

            _report(0.95 * (start - whole.Start) / whole.Count);
        }

        waves.Complete();
        return Conclude(sound, gain, first, second, peak, firstBeyond, secondBeyond);
    }

    private NullTestResult Conclude(
        AlignedSound sound, double gain, SoundMeter first, SoundMeter second, (float Value, long Frame) peak, float firstBeyond,
        float secondBeyond)
    {
        var overlap = sound.Overlap;
        int rate = sound.Rate.Hertz;
        long samples = Math.Max(1, overlap.Count * sound.Channels);
        var edges = SpectrumBands.Edges(rate);
        var spectrum = PairSpectrum.Of(sound, overlap.Start, overlap.Count, SpectrumWindows);
        double start = (double)overlap.Start / rate;
        double music = _seconds.Sum(each => each.Energies.First), residue = _seconds.Sum(each => each.Energies.Residue);
        double perSecond = music / Math.Max(1, _seconds.Count);
        var different = Enumerable.Range(0, _seconds.Count)
            .Where(index => PairEnergies.Differ(_seconds[index].Energies.Residue, perSecond))
            .ToList();
        var (mostFrom, mostTo) = residue > 0 ? spectrum.WhereMostLies(ComparedSignal.Residue, MostOfIt) : (0, 0);
        return new NullTestResult
        {
            First = first.Finish(
                _firstInput.Decoded, _firstInput.DecodedFrames, MeanSquares(each => each.First), start,
                spectrum.TopEnd(ComparedSignal.First)),
            Second = second.Finish(
                _secondInput.Decoded, _secondInput.DecodedFrames, MeanSquares(each => each.Second), start,
                spectrum.TopEnd(ComparedSignal.Second)),
            Rate = rate,
            Channels = sound.Channels,
            Place = _place,
            Gain = gain,
            ComparedFrames = overlap.Count,
            FirstBeyond = new Beyond(overlap.Start, sound.FirstRange.End - overlap.End, SoundMeter.Level(firstBeyond * firstBeyond)),
            SecondBeyond = new Beyond(
                overlap.Start - sound.SecondRange.Start, sound.SecondRange.End - overlap.End,
                SoundMeter.Level(secondBeyond * secondBeyond)),
            EqualSamples = _equal,
            MaxSteps = MaxSteps(),
            StepBits = StepBits,
            ResiduePeak = peak.Value == 0
                ? null
                : new PlacedLevel(SoundMeter.Level((double)peak.Value * peak.Value), (double)peak.Frame / rate),
            ResidueDecibels = SoundMeter.Level(residue / samples),
            MusicDecibels = SoundMeter.Level(music / samples),
            ShareOfSeconds = _seconds.Count == 0 ? 0 : (double)different.Count / _seconds.Count,
            DifferentFrom = different.Count == 0 ? 0 : start + different[0],
            DifferentTo = different.Count == 0 ? 0 : Math.Min(start + different[^1] + 1, (double)overlap.End / rate),
            MostFromHertz = mostFrom,
            MostToHertz = mostTo,
            BandEdges = edges,
            FirstSpectrum = Rounded(spectrum.Levels(ComparedSignal.First, edges)),
            SecondSpectrum = Rounded(spectrum.Levels(ComparedSignal.Second, edges)),
            ResidueSpectrum = Rounded(spectrum.Levels(ComparedSignal.Residue, edges)),
        };
    }

    /// <summary>Of the whole seconds of the common part.</summary>
    private List<double> MeanSquares(Func<PairEnergies, double> energyOf)
    {
        int samples = _first.Format.Rate.Hertz * _first.Format.Channels;
        return [.. _seconds.Where(second => second.Samples == samples).Select(second => energyOf(second.Energies) / samples)];
    }

    /// <summary>Bits of the coarser format; 0 when both are floats.</summary>
    private int StepBits =>
        new[] { _first.Format, _second.Format }.Where(format => !format.IsFloat).Select(format => format.Bits).DefaultIfEmpty(0).Min();

    private long? MaxSteps()
    {
        // Floats that come out of a rounding are a little off its steps.
        const double Tolerance = 0.01;
        if (StepBits == 0)
            return null;
        if (_first.Format.IsFloat || _second.Format.IsFloat)
            return (long)Math.Ceiling(_maxFloatDifference * (double)(1L << (StepBits - 1)) - Tolerance);
        int finer = Math.Max(_first.Format.Bits, _second.Format.Bits) - StepBits;
        return (_maxDifference + (1L << finer) - 1) >> finer;
    }

    private static double[] Rounded(double[] levels) => [.. levels.Select(level => Math.Round(level, 1))];

    /// <summary>Blocks of a range that do not cross from one second to the next.</summary>
    private static IEnumerable<(long Start, int Count, int Second)> Pieces(FrameRange range, int rate)
    {
        for (long at = 0; at < range.Count;)
        {
            long second = at / rate;
            int count = (int)Math.Min(Math.Min(AlignedSound.BlockFrames, (second + 1) * rate - at), range.Count - at);
            yield return (range.Start + at, count, (int)second);
            at += count;
        }
    }

    /// <summary>Blocks of the whole: before the common part, in it, and after it; the second is -1 outside of it.</summary>
    private static IEnumerable<(long Start, int Count, int Second)> Parts(AlignedSound sound, int rate)
    {
        var (whole, overlap) = (sound.Whole, sound.Overlap);
        // Where one of them begins or ends, a block does, too.
        var borders = new[]
            {
                whole.Start, 0, sound.FirstRange.End, sound.SecondRange.Start, sound.SecondRange.End, overlap.Start, overlap.End, whole.End
            }.Distinct()
            .Order()
            .ToList();
        for (int i = 1; i < borders.Count; i++)
        {
            var part = new FrameRange(borders[i - 1], borders[i] - borders[i - 1]);
            bool isCommon = part.Start >= overlap.Start && part.End <= overlap.End;
            foreach (var piece in Pieces(part, rate))
                yield return isCommon ? piece : piece with { Second = -1 };
        }
    }

    /// <summary>Counts equal samples of the block, and finds the greatest difference, without any gain.</summary>
    private void CountEqual(AlignedSound sound)
    {
        if (sound.IsEqual)
        {
            _equal += sound.First.Length;
            return;
        }

        if (_first.Format.IsFloat || _second.Format.IsFloat)
        {
            _equal += sound.Difference.Equal;
            _maxFloatDifference = Math.Max(_maxFloatDifference, sound.Difference.Max);
            return;
        }

        int common = Math.Max(_first.Format.Bits, _second.Format.Bits);
        CompareIntegers(
            sound.Blocks.First.Integers, sound.Blocks.Second.Integers, common - _first.Format.Bits, common - _second.Format.Bits);
    }

    private void CompareIntegers(ReadOnlySpan<int> first, ReadOnlySpan<int> second, int firstShift, int secondShift)
    {
        int equal = 0;
        long most = _maxDifference;
        int at = 0, width = Vector<int>.Count;
        // Up to 31 bits a difference fits; with 32 it is counted sample by sample.
        if (Math.Max(_first.Format.Bits, _second.Format.Bits) < 32)
        {
            var (greatest, unequal) = (Vector<int>.Zero, Vector<int>.Zero);
            for (; at <= first.Length - width; at += width)
            {
                var difference = Vector.ShiftLeft(new Vector<int>(first[at..]), firstShift)
                    - Vector.ShiftLeft(new Vector<int>(second[at..]), secondShift);
                greatest = Vector.Max(greatest, Vector.Abs(difference));
                unequal += Vector.Equals(difference, Vector<int>.Zero);
            }

            for (int lane = 0; lane < width; lane++)
                most = Math.Max(most, greatest[lane]);
            equal -= Vector.Sum(unequal);
        }

        for (; at < first.Length; at++)
        {
            long difference = ((long)first[at] << firstShift) - ((long)second[at] << secondShift);
            most = Math.Max(most, Math.Abs(difference));
            equal += difference == 0 ? 1 : 0;
        }

        _equal += equal;
        _maxDifference = most;
    }

    private static int PlaceOf(ReadOnlySpan<float> samples, float peak)
    {
        int place = 0;
        while (place < samples.Length - 1 && Math.Abs(samples[place]) != peak)
            place++;
        return place;
    }
}

/// <summary>A sound of a null test.</summary>
/// <param name="Sound">As it is compared.</param>
/// <param name="Decoded">Format of its file.</param>
/// <param name="DecodedFrames">Length of its file.</param>
public sealed record NullTestInput(ISeekablePcm Sound, PcmFormat Decoded, long DecodedFrames)
{
    /// <summary>Null where it is to be measured.</summary>
    public KnownLoudness? Loudness { get; init; }
}
