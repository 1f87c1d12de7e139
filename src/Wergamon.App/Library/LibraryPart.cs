using System.Text.Json;

namespace Wergamon.App.Library;

/// <summary>A part of the library; its tracks are whatever is in it at the time.</summary>
/// <param name="View">A list as it was shown; null for albums or tracks.</param>
/// <param name="Albums">Empty for a list or certain tracks.</param>
/// <param name="Tracks">Certain tracks; empty for a list or albums.</param>
public sealed record LibraryPart(TrackView? View, IReadOnlyList<long> Albums, IReadOnlyList<long> Tracks)
{
    public static LibraryPart OfView(TrackView view) => new(view, [], []);

    public static LibraryPart OfAlbum(long id) => new(null, [id], []);

    public static LibraryPart OfTracks(IReadOnlyList<long> ids) => new(null, [], ids);

    public string ToJson() => JsonSerializer.Serialize(this, LibraryJson.Default.LibraryPart);

    /// <summary>What <see cref="ToJson"/> has written.</summary>
    public static LibraryPart Read(string json) => JsonSerializer.Deserialize(json, LibraryJson.Default.LibraryPart) ?? throw new InvalidDataException("This part of the library is not described.");
}

/// <summary>Finds the tracks of parts of the library.</summary>
public sealed class LibraryParts(LibraryQueries library, TrackList list)
{
    /// <summary>The tracks in order; those that are no longer in the library are left out.</summary>
    public IReadOnlyList<TrackRow> TracksOf(LibraryPart part) =>
        part.View is { } view ? library.TracksById(list.Ids(view, 0, int.MaxValue))
        : part.Albums.Count > 0 ? [.. part.Albums.SelectMany(library.TracksOfAlbum)]
        : library.TracksById(part.Tracks);
}
