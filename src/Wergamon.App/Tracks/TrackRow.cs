namespace Wergamon.App.Tracks;

/// <summary>A track with its copies, the master copy first.</summary>
public sealed record TrackRow
{
    public long Id { get; init; }

    public long AlbumId { get; init; }

    public string AlbumTitle { get; init; } = "";

    public string? AlbumArtist { get; init; }

    public int? Disc { get; init; }

    public int? Number { get; init; }

    public string Title { get; init; } = "";

    public string Artist { get; init; } = "";

    public IReadOnlyList<CopyRow> Copies { get; set; } = [];

    public CopyRow Master => Copies[0];
}
