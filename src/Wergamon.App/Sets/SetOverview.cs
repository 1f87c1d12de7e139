using Wergamon.Core.Music;

namespace Wergamon.App.Sets;

/// <summary>A track as the course of a set shows it.</summary>
public readonly record struct CoursePoint(TimeSpan Length, TrackFigures Figures);

/// <summary>A set at a glance, beside others.</summary>
/// <param name="Course">Empty for a set by rule, whose tracks are looked for when it is opened.</param>
/// <param name="NotAnalysed">Tracks whose tempo and key have not been looked for.</param>
/// <param name="Missing">Places whose file or track is not there.</param>
public sealed record SetOverview(SetRow Set, IReadOnlyList<CoursePoint> Course, int NotAnalysed, int Missing)
{
    /// <summary>The lowest and highest tempo; null where none is known.</summary>
    public (double Low, double High)? Tempos => Course.Select(point => point.Figures.Tempo).OfType<double>().ToList() is { Count: > 0 } all
        ? (all.Min(), all.Max())
        : null;
}

/// <summary>A place of a set with what its course shows.</summary>
internal sealed record CourseRow
{
    public long SetId { get; init; }

    public long LengthMs { get; init; }

    public bool IsMissing { get; init; }

    public bool IsAnalysed { get; init; }

    public double? Tempo { get; init; }

    public string? MusicalKey { get; init; }

    /// <summary>As the person says.</summary>
    public int? Energy { get; init; }

    public double? Loudness { get; init; }

    public double? Onsets { get; init; }

    public double? Brightness { get; init; }
}
