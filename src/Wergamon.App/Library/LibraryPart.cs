using System.Text.Json;

namespace Wergamon.App.Library;

/// <summary>A part of the library; its tracks are whatever is in it at the time.</summary>
/// <param name="View">A list as it was shown; null for albums or tracks.</param>
/// <param name="Albums">Empty for a list or certain tracks.</param>
/// <param name="Tracks">Certain tracks, or those that the albums had; empty for a list.</param>
public sealed record LibraryPart(TrackView? View, IReadOnlyList<long> Albums, IReadOnlyList<long> Tracks)
{
    public static LibraryPart OfView(TrackView view) => new(view, [], []);

    public static LibraryPart OfAlbum(long id, IReadOnlyList<long> trackIds) => new(null, [id], trackIds);

    public static LibraryPart OfTracks(IReadOnlyList<long> ids) => new(null, [], ids);

    public string ToJson() => JsonSerializer.Serialize(this, LibraryJson.Default.LibraryPart);

    /// <summary>What <see cref="ToJson"/> has written.</summary>
    public static LibraryPart Read(string json) =>
        JsonSerializer.Deserialize(json, LibraryJson.Default.LibraryPart)
            ?? throw new InvalidDataException("This part of the library is not described.");
}

/// <summary>Finds the tracks of parts of the library.</summary>
public sealed class LibraryParts(LibraryQueries library, TrackList list)
{
    /// <summary>The tracks in order; those that are no longer in the library are left out.</summary>
    public IReadOnlyList<TrackRow> TracksOf(LibraryPart part) =>
        part.Albums.Count > 0 ? TracksOfAlbums(part) : library.TracksById(IdsOf(part));

    /// <summary>Their IDs alone, which is much less to read. Certain tracks need not be in the library any more.</summary>
    public IReadOnlyList<long> IdsOf(LibraryPart part) =>
        part.View is { } view ? list.Ids(view, 0, int.MaxValue)
        : part.Albums.Count > 0 ? [.. TracksOfAlbums(part).Select(track => track.Id)]
        : part.Tracks;

    /// <summary>An album that got another title is another one: it is found by the tracks that it had.</summary>
    private List<TrackRow> TracksOfAlbums(LibraryPart part)
    {
        var tracks = part.Albums.SelectMany(library.TracksOfAlbum).ToList();
        return tracks.Count > 0
            ? tracks
            : [.. library.TracksById(part.Tracks).Select(track => track.AlbumId).Distinct().SelectMany(library.TracksOfAlbum)];
    }
}
