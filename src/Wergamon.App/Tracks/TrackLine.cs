namespace Wergamon.App.Tracks;

/// <summary>A track as a list shows it.</summary>
public sealed record TrackLine
{
    public long TrackId { get; init; }

    public long AlbumId { get; init; }

    public string Title { get; init; } = "";

    public string Artist { get; init; } = "";

    public string Album { get; init; } = "";

    public int? Disc { get; init; }

    public int? Number { get; init; }

    public string? Year { get; init; }

    public string? Genre { get; init; }

    public int SampleRate { get; init; }

    public int Bits { get; init; }

    public int Channels { get; init; }

    public long LengthMs { get; init; }

    public string Path { get; init; } = "";

    public double? Tempo { get; init; }

    public string? MusicalKey { get; init; }

    public string? Rating { get; init; }

    public long AddedAt { get; init; }

    public long Bytes { get; init; }

    public bool IsDamaged { get; init; }

    /// <summary>The master copy first.</summary>
    public IReadOnlyList<CopyRow> Copies { get; set; } = [];
}
