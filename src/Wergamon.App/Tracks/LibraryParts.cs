namespace Wergamon.App.Tracks;

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

    /// <summary>A renamed album is another album: it is found by the tracks that it had.</summary>
    private List<TrackRow> TracksOfAlbums(LibraryPart part)
    {
        var tracks = part.Albums.SelectMany(library.TracksOfAlbum).ToList();
        return tracks.Count > 0
            ? tracks
            : [.. library.TracksById(part.Tracks).Select(track => track.AlbumId).Distinct().SelectMany(library.TracksOfAlbum)];
    }
}
