using Wergamon.App.Tracks;
using Wergamon.Core.Naming;

namespace Wergamon.Web.Display;

/// <summary>Parts of the library in words.</summary>
internal static class PartLabels
{
    /// <summary>"all tracks below /music in FLAC, found with 'lamp'"</summary>
    public static string Of(LibraryPart part, LibraryQueries library)
    {
        if (part.Albums.Count > 0)
            return "the album "
                + string.Join(
                    ", ",
                    part.Albums.Select(
                        id => library.Album(id)?.Title
                            ?? (library.TracksById(part.Tracks) is [var first, ..] ? first.AlbumTitle : "that is gone")));
        if (part.View is not { } view)
            return Plural.Count(part.Tracks.Count, "picked track");
        var words = new List<string>();
        if (view.Folder is { } folder)
            words.Add(" below " + folder);
        if (view.Format is { } format)
            words.Add(" in " + format);
        if (view.Words.Length > 0)
            words.Add($", found with \"{view.Words}\"");
        words.AddRange(view.Marks.Select(mark => ", " + TrackAddress.InWords(mark)));
        return "all tracks" + string.Concat(words);
    }
}
