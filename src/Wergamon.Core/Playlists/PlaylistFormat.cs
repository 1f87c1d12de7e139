using System.Text;
using Wergamon.Core.Bytes;

namespace Wergamon.Core.Playlists;

/// <summary>A kind of playlist file.</summary>
public abstract class PlaylistFormat
{
    /// <summary>More entries than any list has that a person made; further ones are not read.</summary>
    public const int MaxEntries = 50_000;

    /// <summary>Longest file that is read, in characters.</summary>
    public const int MaxLength = 20_000_000;

    /// <summary>Longer tracks, and later marks, are mistakes: about four months.</summary>
    protected const int MaxSeconds = 10_000_000;

    /// <summary>Marks of a track beyond this are not read.</summary>
    protected const int MaxMarks = 1000;

    public static PlaylistFormat M3u8 { get; } = new M3u8Format();

    public static PlaylistFormat Xspf { get; } = new XspfFormat();

    public static PlaylistFormat Csv { get; } = new CsvFormat();

    public static PlaylistFormat Cue { get; } = new CueFormat();

    public static IReadOnlyList<PlaylistFormat> All { get; } = [M3u8, Xspf, Cue, Csv];

    public abstract string Name { get; }

    /// <summary>With its dot.</summary>
    public abstract string Extension { get; }

    public abstract string MimeType { get; }

    /// <summary>More tracks do not fit into a file of this kind.</summary>
    public virtual int MaxTracks => MaxEntries;

    public static PlaylistFormat? Find(string? name) =>
        All.FirstOrDefault(format => format.Name.Equals(name, StringComparison.OrdinalIgnoreCase));

    public abstract string Write(Playlist playlist);

    /// <summary>Null for a text that is not of this kind.</summary>
    public abstract Playlist? Read(string text);

    /// <summary>
    /// The same for the bytes of a file: UTF-8, or UTF-16 where a byte order mark says so, or else Latin-1, as older lists have it.
    /// </summary>
    public static Playlist? ReadAny(ReadOnlySpan<byte> file) => ReadAny(file switch
    {
        [0xFF, 0xFE, ..] => Encoding.Unicode.GetString(file[2..]),
        [0xFE, 0xFF, ..] => Encoding.BigEndianUnicode.GetString(file[2..]),
        _ => LenientText.ReadAll(file),
    });

    /// <summary>Reads a playlist of any kind, told by what is in it; null for anything else.</summary>
    public static Playlist? ReadAny(string text)
    {
        if (text.Length > MaxLength)
            return null;
        text = WellFormedText.From(text);
        // Only M3U has no mark that it must bear, so it comes last.
        return Xspf.Read(text) ?? Cue.Read(text) ?? Csv.Read(text) ?? M3u8.Read(text);
    }

    /// <summary>The path that a location means: of a file address or an ordinary path; empty for an address of the web.</summary>
    protected static string PathOf(string location)
    {
        var text = location.Trim();
        if (text.StartsWith("file:", StringComparison.OrdinalIgnoreCase))
            return Uri.TryCreate(text, UriKind.Absolute, out var address) ? address.LocalPath : "";
        return text.Contains("://", StringComparison.Ordinal) ? "" : text;
    }
}
