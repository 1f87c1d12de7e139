using Wergamon.Core.Tags;

namespace Wergamon.Devices.Decks;

/// <summary>A list of a stick as a deck shows it.</summary>
/// <param name="Path">Of its playlist, or of the folder, from the top of the stick.</param>
/// <param name="Tracks">Paths of its tracks, in order.</param>
public sealed record DeckList(string Path, string Title, IReadOnlyList<string> Tracks)
{
    /// <summary>False for a folder, whose order is that of its names.</summary>
    public bool CanBeOrdered { get; init; }
}

/// <summary>A track as a deck shows it.</summary>
/// <param name="Path">From the top of the stick.</param>
/// <param name="Rating">0 to 5.</param>
/// <param name="FirstBeat">In seconds; null where the file does not say.</param>
public sealed record DeckTrack(
    string Path, string Title, string Artist, int Rating, string Comment, IReadOnlyList<ChapterMark> Marks, double? Tempo,
    double? FirstBeat);

/// <summary>A deck with a stick in it: it shows lists, plays tracks, and writes back what a person changes, in open formats.</summary>
public interface IDeck
{
    /// <summary>Playlists, or else the folders that hold music.</summary>
    IReadOnlyList<DeckList> Lists();

    /// <summary>Null for a file that is not there or holds no sound.</summary>
    DeckTrack? Track(string path);

    /// <summary>Opens a track to be played; null for one that is not there.</summary>
    Stream? Open(string path);

    /// <summary>Gives a playlist another order, or leaves tracks out.</summary>
    /// <param name="tracks">As <see cref="DeckList.Tracks"/> has them.</param>
    void SetOrder(string list, IReadOnlyList<string> tracks);

    /// <summary>Writes into the tags of a track.</summary>
    /// <exception cref="IOException">The stick does not take it.</exception>
    void Write(string path, DeckNote note);

    /// <summary>Deletes a track from the stick; playlists go on naming it.</summary>
    void Delete(string path);
}
