namespace Wergamon.Core.Playlists;

/// <summary>A place in a track that a person has marked.</summary>
/// <param name="Seconds">From the start of the track.</param>
public readonly record struct PlaylistMark(double Seconds, string Title);

/// <summary>A track in a playlist.</summary>
/// <param name="Path">Absolute, or relative to the playlist; empty where the list names no file.</param>
/// <param name="Title">Empty where it is not known, as is the artist.</param>
/// <param name="Duration">Null where it is not known.</param>
public sealed record PlaylistEntry(string Path, string Title, string Artist, TimeSpan? Duration)
{
    public string Album { get; init; } = "";

    /// <summary>In order of time.</summary>
    public IReadOnlyList<PlaylistMark> Marks { get; init; } = [];
}

/// <summary>An ordered list of tracks, as a file keeps it.</summary>
/// <param name="Title">Empty where it has none.</param>
public sealed record Playlist(string Title, IReadOnlyList<PlaylistEntry> Entries)
{
    /// <summary>Silence between tracks.</summary>
    public TimeSpan Gap { get; init; }
}
