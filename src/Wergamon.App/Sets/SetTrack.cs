using Wergamon.Core.Music;

namespace Wergamon.App.Sets;

/// <summary>A track as sets know it: its effective figures, their source, and those of the other sources.</summary>
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

    /// <summary>The person's comment; empty for none.</summary>
    public string Comment { get; init; } = "";

    public double? Tempo { get; init; }

    public double? TaggedTempo { get; init; }

    public string? TaggedKey { get; init; }

    public double? OwnTempo { get; init; }

    public string? OwnKey { get; init; }

    public int? OwnEnergy { get; init; }

    /// <summary>Position of a beat in seconds, if the person has shifted the grid.</summary>
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

    /// <summary>From the scale of the library; null if unknown.</summary>
    public int? MeasuredEnergy { get; internal set; }

    public int? Energy => OwnEnergy ?? MeasuredEnergy;

    public TimeSpan Length => TimeSpan.FromMilliseconds(LengthMs);

    /// <summary>The positions of the beats; null if unknown or not even.</summary>
    public BeatGrid? Grid =>
        !Drifts && (OwnTempo ?? MeasuredTempo) is { } tempo && (OwnBeat ?? MeasuredBeat) is { } beat ? new BeatGrid(tempo, beat) : null;

    /// <summary>True if one figure cannot describe the tempo.</summary>
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
