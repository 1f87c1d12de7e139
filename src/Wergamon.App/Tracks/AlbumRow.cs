namespace Wergamon.App.Tracks;

public sealed record AlbumRow
{
    public long Id { get; init; }

    public string Title { get; init; } = "";

    public string Artist { get; init; } = "";

    public string? Year { get; init; }

    public string? Genre { get; init; }

    public int Tracks { get; init; }

    public string? CoverHash { get; init; }

    public long AddedAt { get; init; }
}
