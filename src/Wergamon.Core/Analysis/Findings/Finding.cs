namespace Wergamon.Core.Analysis.Findings;

/// <summary>How sure a finding is.</summary>
public enum Sureness
{
    Unsure,
    Likely,
    Certain,
}

/// <summary>Something that was measured in a sound, and what it means.</summary>
/// <param name="Measured">What was measured, as a sentence.</param>
/// <param name="Why">Why it is as sure as it is, as a sentence.</param>
public sealed record Finding(FindingKind Kind, Sureness Sureness, string Measured, string Why)
{
    /// <summary>The frequency that the picture marks; null where there is none.</summary>
    public double? Hertz { get; init; }

    /// <summary>Where it is first heard, in seconds; null where it is everywhere.</summary>
    public double? Seconds { get; init; }
}

/// <summary>The findings of a sound, with the picture that shows them.</summary>
/// <param name="Findings">The surest first; empty where nothing was seen.</param>
/// <param name="BandEdges">Edges of the bands of the spectrum, in hertz.</param>
/// <param name="Spectrum">Mean levels of the louder parts in dB; a sine at full scale has 0 dB. Empty for silence.</param>
public sealed record Inspection(IReadOnlyList<Finding> Findings, IReadOnlyList<double> BandEdges, IReadOnlyList<double> Spectrum);
