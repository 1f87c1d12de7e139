using System.Globalization;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Naming;

/// <summary>Where a new copy goes below its target's folder: "Album artist/Album/NN Title.ext".</summary>
public static class TrackPath
{
    /// <summary>The path with '/' between its parts, each of them safe.</summary>
    /// <param name="extension">With its dot.</param>
    public static string For(TagSet tags, string extension)
    {
        var artist = tags.First(FieldNames.AlbumArtist) ?? tags.First(FieldNames.Artist) ?? "Unknown artist";
        var album = tags.First(FieldNames.Album) ?? "Unknown album";
        var title = tags.First(FieldNames.Title) ?? "Untitled";
        return string.Join('/',
            SafeFileName.From(artist, instead: "Unknown artist"),
            SafeFileName.From(album, instead: "Unknown album"),
            SafeFileName.From(NumberOf(tags) + title, extension, instead: "Untitled"));
    }

    /// <summary>The path with a number after the name, for a name that is taken: "03 Title (2).mp3".</summary>
    public static string Numbered(string path, int number) =>
        string.Create(CultureInfo.InvariantCulture, $"{path[..^Path.GetExtension(path).Length]} ({number}){Path.GetExtension(path)}");

    /// <summary>Two digits, so that players that sort by name keep the order; the disc goes first where there are several.</summary>
    private static string NumberOf(TagSet tags)
    {
        if (tags.Number(FieldNames.Track) is not { } track)
            return "";
        int digits = tags.Number(FieldNames.TrackTotal) >= 100 || track >= 100 ? 3 : 2;
        var number = track.ToString(CultureInfo.InvariantCulture).PadLeft(digits, '0');
        bool severalDiscs = tags.Number(FieldNames.DiscTotal) > 1 || tags.Number(FieldNames.Disc) > 1;
        return severalDiscs && tags.Number(FieldNames.Disc) is { } disc ? $"{disc}-{number} " : number + " ";
    }
}
