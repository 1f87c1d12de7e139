using System.Text.Json;

namespace Wergamon.App.Tracks;

/// <summary>A part of the library; its tracks are whatever is in it at the time.</summary>
/// <param name="View">A list as it was shown; null for albums or tracks.</param>
/// <param name="Albums">Empty for a list or certain tracks.</param>
/// <param name="Tracks">Certain tracks, or those that the albums had; empty for a list.</param>
public sealed record LibraryPart(TrackView? View, IReadOnlyList<long> Albums, IReadOnlyList<long> Tracks)
{
    public static LibraryPart OfView(TrackView view) => new(view, [], []);

    public static LibraryPart OfAlbum(long id, IReadOnlyList<long> trackIds) => new(null, [id], trackIds);

    public static LibraryPart OfTracks(IReadOnlyList<long> ids) => new(null, [], ids);

    public string ToJson() => JsonSerializer.Serialize(this, TracksJson.Default.LibraryPart);

    /// <summary>What <see cref="ToJson"/> has written.</summary>
    public static LibraryPart Read(string json) =>
        JsonSerializer.Deserialize(json, TracksJson.Default.LibraryPart)
            ?? throw new InvalidDataException("This part of the library is not described.");
}
