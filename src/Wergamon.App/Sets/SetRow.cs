using System.Text.Json;
using Wergamon.Core.Music;

namespace Wergamon.App.Sets;

/// <summary>An ordered list of tracks made by hand, or a standing one by a rule.</summary>
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

    /// <summary>How long each track runs on under the next, in milliseconds.</summary>
    public long CrossfadeMs { get; init; }

    public int Tracks { get; init; }

    public long LengthMs { get; init; }

    /// <summary>Playing time with gaps and crossfades; that of a standing set is not known here.</summary>
    public TimeSpan Duration => DurationOf(Tracks, LengthMs);

    public TimeSpan DurationOf(int tracks, long lengthMs) =>
        TimeSpan.FromMilliseconds(Math.Max(0, lengthMs + Math.Max(0, tracks - 1) * (GapMs - CrossfadeMs)));
}

/// <summary>A track as sets know it: the figures of its line, who says them, and what the others say.</summary>
public sealed record SetTrack
{
    private Figure<MusicalKey?>? _key;

    public long TrackId { get; init; }

    public long CopyId { get; init; }

    public long AlbumId { get; init; }

    public string Title { get; init; } = "";

    public string Artist { get; init; } = "";

    public string Album { get; init; } = "";

    public int? Disc { get; init; }

    public int? Number { get; init; }

    public string Path { get; init; } = "";

    public long LengthMs { get; init; }

    /// <summary>1 to 5, as text since tags hold halves, too; null for none.</summary>
    public string? Rating { get; init; }

    public string? TaggedRating { get; init; }

    public int? OwnRating { get; init; }

    /// <summary>What the person says of it; empty for nothing.</summary>
    public string Comment { get; init; } = "";

    public double? Tempo { get; init; }

    public double? TaggedTempo { get; init; }

    public string? TaggedKey { get; init; }

    public double? OwnTempo { get; init; }

    public string? OwnKey { get; init; }

    public int? OwnEnergy { get; init; }

    /// <summary>Seconds to a beat, where the person has shifted the grid.</summary>
    public double? OwnBeat { get; init; }

    public double? MeasuredTempo { get; init; }

    public double? MeasuredBeat { get; init; }

    public double? Slowest { get; init; }

    public double? Fastest { get; init; }

    public double? TempoConfidence { get; init; }

    public string? MeasuredKey { get; init; }

    public double? KeyConfidence { get; init; }

    public double? Onsets { get; init; }

    public double? Brightness { get; init; }

    public double? Loudness { get; init; }

    /// <summary>Linear; 1 is full scale.</summary>
    public double? TruePeak { get; init; }

    public string CodecName { get; init; } = "";

    public bool IsAnalysed { get; init; }

    public bool IsMissing { get; init; }

    /// <summary>True for a place whose track is no longer in the library, or only in the trash.</summary>
    public bool IsGone { get; init; }

    /// <summary>From the scale of the library; null where it is not known.</summary>
    public int? MeasuredEnergy { get; internal set; }

    public int? Energy => OwnEnergy ?? MeasuredEnergy;

    public TimeSpan Length => TimeSpan.FromMilliseconds(LengthMs);

    /// <summary>Where the beats are; null where that is not known or they are not even.</summary>
    public BeatGrid? Grid =>
        !Drifts && (OwnTempo ?? MeasuredTempo) is { } tempo && (OwnBeat ?? MeasuredBeat) is { } beat ? new BeatGrid(tempo, beat) : null;

    /// <summary>True where one figure does not tell the tempo.</summary>
    public bool Drifts => OwnTempo is null && MeasuredTempo is not null && Slowest != Fastest;

    /// <summary>How the person has keys in tags.</summary>
    internal KeyNotation Notation { get; set; } = KeyNotation.Usual;

    public FigureSource? TempoFrom => Figure.Choose(OwnTempo, TaggedTempo, MeasuredTempo).From;

    public MusicalKey? Key => KeyFigure.Value;

    public FigureSource? KeyFrom => KeyFigure.From;

    private Figure<MusicalKey?> KeyFigure => _key ??= Figure.Choose(Parse(OwnKey), KeyOfTags, Parse(MeasuredKey));

    private MusicalKey? KeyOfTags => TaggedKey is null ? null : Notation.Read(TaggedKey);

    public TrackFigures Figures => new(Tempo, Key, Energy);

    /// <summary>The figures without what a person says here.</summary>
    public TrackFigures WithoutOwn => new(TaggedTempo ?? MeasuredTempo, KeyOfTags ?? Parse(MeasuredKey), MeasuredEnergy);

    private static MusicalKey? Parse(string? text) => MusicalKey.TryParse(text, out var key) ? key : null;
}

/// <summary>A track in its place in a set.</summary>
/// <param name="ItemId">Names the place, wherever it moves.</param>
/// <param name="Start">From the start of the set.</param>
/// <param name="Step">From the track before; null for the first.</param>
public sealed record SetLine(long ItemId, SetTrack Track, TimeSpan Start, Transition? Step);

/// <summary>A set as it is shown.</summary>
/// <param name="CanUndo">What undo takes back, in words; null for nothing.</param>
public sealed record SetView(SetRow Set, IReadOnlyList<SetLine> Lines, string? CanUndo)
{
    /// <summary>Playing time with gaps and crossfades.</summary>
    public TimeSpan Duration => Set.DurationOf(Lines.Count, Lines.Sum(line => line.Track.LengthMs));
}
