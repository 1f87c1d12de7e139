using System.Globalization;
using System.Text;

namespace Wergamon.Core.Playlists;

/// <summary>
/// Extended M3U in UTF-8. <em>Common practice; the nearest to a standard is RFC 8216, section 4, which takes the form over.</em>
/// </summary>
internal sealed class M3u8Format : PlaylistFormat
{
    private const string Head = "#EXTM3U", Title = "#PLAYLIST:", Info = "#EXTINF:";

    public override string Name => "M3U8";

    public override string Extension => ".m3u8";

    public override string MimeType => "audio/x-mpegurl";

    public override string Write(Playlist playlist)
    {
        var text = new StringBuilder(Head).Append('\n').Append(Title).Append(OneLine(playlist.Title)).Append('\n');
        foreach (var entry in playlist.Entries)
        {
            var name = entry.Artist.Length > 0 ? $"{entry.Artist} - {entry.Title}" : entry.Title;
            // A length of -1 is one that is not known.
            double seconds = entry.Duration is { } duration ? Math.Round(duration.TotalSeconds) : -1;
            text.Append(CultureInfo.InvariantCulture, $"{Info}{seconds},{OneLine(name)}\n").Append(Safe(OneLine(entry.Path))).Append('\n');
        }

        return text.ToString();
    }

    /// <summary>Without its head, a text counts as a list when each line could be the name of a file.</summary>
    public override Playlist? Read(string text)
    {
        if (text.Contains('\0', StringComparison.Ordinal)
            || (!text.TrimStart('\uFEFF').StartsWith(Head, StringComparison.Ordinal) && !IsListOfFiles(text)))
            return null;
        var title = "";
        var entries = new List<PlaylistEntry>();
        PlaylistEntry? info = null;
        foreach (var raw in text.TrimStart('\uFEFF').AsSpan().EnumerateLines())
        {
            var line = raw.Trim();
            if (line.StartsWith(Title))
                title = line[Title.Length..].Trim().ToString();
            else if (line.StartsWith(Info))
                info = InfoOf(line[Info.Length..].ToString());
            else if (line.Length > 0 && line[0] != '#' && PathOf(line.ToString()) is { Length: > 0 } path && entries.Count < MaxEntries)
            {
                entries.Add((info ?? new PlaylistEntry("", "", "", null)) with { Path = path });
                info = null;
            }
        }

        return entries.Count > 0 ? new Playlist(title, entries) : null;
    }

    private static bool IsListOfFiles(string text)
    {
        foreach (var line in text.TrimStart('\uFEFF').AsSpan().EnumerateLines())
        {
            var name = line.Trim();
            if (name.Length > 0 && name[0] != '#'
                && (name.IndexOfAny('<', '>', '"') >= 0 || Path.GetExtension(name) is not { Length: >= 3 and <= 6 }))
                return false;
        }

        return true;
    }

    /// <summary>"214,The Quarry Lamps - Slatebreaker"</summary>
    private static PlaylistEntry InfoOf(string text)
    {
        var (length, name) = text.IndexOf(',', StringComparison.Ordinal) is >= 0 and var comma
            ? (text[..comma], text[(comma + 1)..].Trim())
            : (text, "");
        TimeSpan? duration = double.TryParse(length.Split(' ')[0], NumberStyles.Float, CultureInfo.InvariantCulture, out double seconds)
                && seconds is > 0 and < MaxSeconds
            ? TimeSpan.FromSeconds(seconds)
            : null;
        return name.Split(" - ", 2) is [var artist, var title]
            ? new PlaylistEntry("", title, artist, duration)
            : new PlaylistEntry("", name, "", duration);
    }

    private static string OneLine(string text) => text.ReplaceLineEndings(" ");

    /// <summary>A path that would be taken for a comment.</summary>
    private static string Safe(string path) => path.StartsWith('#') ? "./" + path : path;
}
