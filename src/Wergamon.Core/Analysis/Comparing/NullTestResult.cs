namespace Wergamon.Core.Analysis.Comparing;

/// <summary>What a null test found: the figures of both sounds, how they were aligned, and what was left.</summary>
public sealed record NullTestResult
{
    public required SoundFigures First { get; init; }

    public required SoundFigures Second { get; init; }

    /// <summary>Sample rate at which both were compared, in hertz.</summary>
    public required int Rate { get; init; }

    /// <summary>Channels that were compared.</summary>
    public required int Channels { get; init; }

    /// <summary>How they are aligned; null when nothing of one was found in the other.</summary>
    public AlignedPair? Place { get; init; }

    /// <summary>True when the sides of the second were exchanged before both were subtracted.</summary>
    public bool IsSwapped { get; init; }

    /// <summary>
    /// Linear gain of the second that brings it to the level of the first, negative for the opposite polarity; 1 when it was left as it is.
    /// </summary>
    public double Gain { get; init; } = 1;

    /// <summary>Frames that both have.</summary>
    public long ComparedFrames { get; init; }

    /// <summary>What each has beyond the common part, before it and after it.</summary>
    public Beyond FirstBeyond { get; init; } = new(0, 0, -200);

    public Beyond SecondBeyond { get; init; } = new(0, 0, -200);

    /// <summary>Samples of all channels that are equal, without any gain.</summary>
    public long EqualSamples { get; init; }

    /// <summary>The greatest difference in steps of <see cref="StepBits"/> bits, without any gain; null where both are floats.</summary>
    public long? MaxSteps { get; init; }

    /// <summary>Bits of the coarser of both formats; 0 when both are floats.</summary>
    public int StepBits { get; init; }

    /// <summary>The greatest sample of the residue; null when nothing is left.</summary>
    public PlacedLevel? ResiduePeak { get; init; }

    /// <summary>Mean level of the residue in dB relative to full scale; -200 for silence.</summary>
    public double ResidueDecibels { get; init; } = -200;

    /// <summary>Mean level of the first sound in the common part.</summary>
    public double MusicDecibels { get; init; } = -200;

    /// <summary>Share of the seconds in which the residue is more than -80 dB of the music, from 0 to 1.</summary>
    public double ShareOfSeconds { get; init; }

    /// <summary>The first of these seconds and the end of the last, in seconds of the first sound.</summary>
    public double DifferentFrom { get; init; }

    public double DifferentTo { get; init; }

    /// <summary>The narrowest range of frequencies that holds four fifths of the residue, in hertz.</summary>
    public double MostFromHertz { get; init; }

    public double MostToHertz { get; init; }

    /// <summary>Edges of the bands of the spectra, in hertz.</summary>
    public IReadOnlyList<double> BandEdges { get; init; } = [];

    /// <summary>Mean spectra of the common part, in dB; see <see cref="PairSpectrum.Levels"/>.</summary>
    public IReadOnlyList<double> FirstSpectrum { get; init; } = [];

    public IReadOnlyList<double> SecondSpectrum { get; init; } = [];

    public IReadOnlyList<double> ResidueSpectrum { get; init; } = [];
}

/// <summary>What one sound has beyond the common part.</summary>
/// <param name="Before">Frames before it.</param>
/// <param name="After">Frames after it.</param>
/// <param name="PeakDecibels">The greatest sample in both; -200 for silence.</param>
public sealed record Beyond(long Before, long After, double PeakDecibels);
