namespace Wergamon.App.Sets;

/// <summary>What the analysis of a track has found; null where it has not been made or has found nothing.</summary>
public sealed record MeasuredFigures
{
    public bool IsAnalysed { get; init; }

    public double? Tempo { get; init; }

    /// <summary>Position of a beat in seconds.</summary>
    public double? FirstBeat { get; init; }

    public double? Slowest { get; init; }

    public double? Fastest { get; init; }

    public double? TempoConfidence { get; init; }

    public string? Key { get; init; }

    public double? KeyConfidence { get; init; }

    public double? Onsets { get; init; }

    public double? Brightness { get; init; }

    public double? Loudness { get; init; }

    /// <summary>Linear; 1 is full scale.</summary>
    public double? TruePeak { get; init; }

    /// <summary>From the scale of the library.</summary>
    public int? Energy { get; init; }
}
