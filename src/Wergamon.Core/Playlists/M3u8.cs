using System.Globalization;
using System.Text;

namespace Wergamon.Core.Playlists;

/// <summary>A track in a playlist.</summary>
/// <param name="Path">Absolute, or relative to the playlist.</param>
public sealed record PlaylistEntry(string Path, string Title, string Artist, TimeSpan Duration);

/// <summary>Extended M3U in UTF-8. <em>Common practice; the nearest to a standard is RFC 8216, section 4, which takes the form over.</em></summary>
public static class M3u8
{
    public static string Write(string title, IEnumerable<PlaylistEntry> entries)
    {
        var text = new StringBuilder("#EXTM3U\n").Append("#PLAYLIST:").Append(OneLine(title)).Append('\n');
        foreach (var entry in entries)
        {
            var name = entry.Artist.Length > 0 ? $"{entry.Artist} - {entry.Title}" : entry.Title;
            text.Append(CultureInfo.InvariantCulture, $"#EXTINF:{Math.Round(entry.Duration.TotalSeconds)},{OneLine(name)}\n").Append(OneLine(entry.Path)).Append('\n');
        }

        return text.ToString();
    }

    private static string OneLine(string text) => text.ReplaceLineEndings(" ");
}
