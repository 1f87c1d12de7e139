using System.Text.Json;
using Wergamon.Core.Music;

namespace Wergamon.App.Sets;

/// <summary>An ordered list of tracks, made by hand or by a rule.</summary>
public sealed record SetRow
{
    public long Id { get; init; }

    public string Title { get; init; } = "";

    /// <summary>Names of folders with slashes between them; empty for none.</summary>
    public string Folder { get; init; } = "";

    /// <summary>The day that it is for, as ISO 8601 writes it.</summary>
    public string? HeldOn { get; init; }

    public string? RuleJson { get; init; }

    /// <summary>Null for a set made by hand.</summary>
    public SetRule? Rule => RuleJson is null ? null : JsonSerializer.Deserialize(RuleJson, SetsJson.Default.SetRule);

    public string Notes { get; init; } = "";

    /// <summary>Silence between tracks, in milliseconds.</summary>
    public long GapMs { get; init; }

    /// <summary>How long each track overlaps the next, in milliseconds.</summary>
    public long CrossfadeMs { get; init; }

    public int Tracks { get; init; }

    public long LengthMs { get; init; }

    /// <summary>Playing time with gaps and crossfades; that of a set by rule is not known here.</summary>
    public TimeSpan Duration => DurationOf(Tracks, LengthMs);

    public TimeSpan DurationOf(int tracks, long lengthMs) =>
        TimeSpan.FromMilliseconds(Math.Max(0, lengthMs + Math.Max(0, tracks - 1) * (GapMs - CrossfadeMs)));
}

/// <summary>A track in its place in a set.</summary>
/// <param name="ItemId">Names the place, wherever it moves.</param>
/// <param name="Start">From the start of the set.</param>
/// <param name="Step">From the track before; null for the first.</param>
public sealed record SetLine(long ItemId, SetTrack Track, TimeSpan Start, Transition? Step);

/// <summary>A set as it is shown.</summary>
/// <param name="CanUndo">What undo would revert, in words; null for nothing.</param>
public sealed record SetView(SetRow Set, IReadOnlyList<SetLine> Lines, string? CanUndo)
{
    /// <summary>Playing time with gaps and crossfades.</summary>
    public TimeSpan Duration => Set.DurationOf(Lines.Count, Lines.Sum(line => line.Track.LengthMs));
}
