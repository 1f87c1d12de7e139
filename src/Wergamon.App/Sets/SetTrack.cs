using Wergamon.Core.Music;

namespace Wergamon.App.Sets;

/// <summary>A track as sets know it: its figures from each source, and those that count.</summary>
public sealed record SetTrack
{
    public long TrackId { get; init; }

    public long CopyId { get; init; }

    public long AlbumId { get; init; }

    public string Title { get; init; } = "";

    public string Artist { get; init; } = "";

    public string Album { get; init; } = "";

    public int? Disc { get; init; }

    public int? Number { get; init; }

    public string Path { get; init; } = "";

    internal long LengthMs { get; init; }

    public TimeSpan Length => TimeSpan.FromMilliseconds(LengthMs);

    public string CodecName { get; init; } = "";

    public bool IsMissing { get; init; }

    /// <summary>True for a place whose track is no longer in the library, or only in the trash.</summary>
    public bool IsGone { get; init; }

    /// <summary>1 to 5, as text since tags hold halves, too; null for none.</summary>
    public string? Rating { get; init; }

    public OwnFigures Own { get; init; } = new();

    public TaggedFigures Tagged { get; init; } = new();

    public MeasuredFigures Measured { get; init; } = new();

    /// <summary>How the person has keys in tags.</summary>
    internal KeyNotation Notation { get; init; } = KeyNotation.Usual;

    public double? Tempo => TempoFigure.Value;

    public FigureSource? TempoFrom => TempoFigure.From;

    /// <summary>True if one figure cannot describe the tempo.</summary>
    public bool Drifts => Own.Tempo is null && Measured.Tempo is not null && Measured.Slowest != Measured.Fastest;

    /// <summary>The positions of the beats; null if unknown or not even.</summary>
    public BeatGrid? Grid =>
        !Drifts && (Own.Tempo ?? Measured.Tempo) is { } tempo && (Own.FirstBeat ?? Measured.FirstBeat) is { } beat
            ? new BeatGrid(tempo, beat)
            : null;

    public MusicalKey? Key => KeyFigure.Value;

    public FigureSource? KeyFrom => KeyFigure.From;

    public int? Energy => Own.Energy ?? Measured.Energy;

    public TrackFigures Figures => new(Tempo, Key, Energy);

    private Figure<double?> TempoFigure => Figure.Choose(Own.Tempo, Tagged.Tempo, Measured.Tempo);

    private Figure<MusicalKey?> KeyFigure =>
        Figure.Choose(Parse(Own.Key), Tagged.Key is null ? null : Notation.Read(Tagged.Key), Parse(Measured.Key));

    private static MusicalKey? Parse(string? text) => MusicalKey.TryParse(text, out var key) ? key : null;
}
