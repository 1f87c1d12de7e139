using System.Globalization;
using System.Text;

namespace Wergamon.Core.Playlists;

/// <summary>A table with a line of names, one track a line (RFC 4180, with line feeds alone).</summary>
internal sealed class CsvFormat : PlaylistFormat
{
    private static readonly string[] Columns = ["number", "title", "artist", "album", "seconds", "path"];

    public override string Name => "CSV";

    public override string Extension => ".csv";

    public override string MimeType => "text/csv";

    public override string Write(Playlist playlist)
    {
        var text = new StringBuilder(string.Join(',', Columns)).Append('\n');
        foreach (var (index, entry) in playlist.Entries.Index())
        {
            string[] cells = [
                (index + 1).ToString(CultureInfo.InvariantCulture), entry.Title, entry.Artist, entry.Album,
                entry.Duration?.TotalSeconds.ToString("0.###", CultureInfo.InvariantCulture) ?? "", entry.Path
            ];
            text.AppendJoin(',', cells.Select(cell => Quoted(Guarded(cell)))).Append('\n');
        }

        return text.ToString();
    }

    /// <summary>Columns are recognised by their names, in any order; a title or a path has to be among them.</summary>
    public override Playlist? Read(string text)
    {
        using var lines = LinesOf(text.TrimStart('\uFEFF')).GetEnumerator();
        if (!lines.MoveNext() || lines.Current.Count < 2)
            return null;
        var places = lines.Current.Select((name, place) => (Name: name.Trim().ToLowerInvariant(), place))
            .DistinctBy(each => each.Name)
            .ToDictionary(each => each.Name, each => each.place);
        if (!places.ContainsKey("title") && !places.ContainsKey("path"))
            return null;
        var entries = new List<PlaylistEntry>();
        while (lines.MoveNext() && entries.Count < MaxEntries)
        {
            var cells = lines.Current;
            string Cell(string name) =>
                places.TryGetValue(name, out int place) && place < cells.Count ? Unguarded(cells[place]).Trim() : "";
            TimeSpan? duration = double.TryParse(Cell("seconds"), NumberStyles.Float, CultureInfo.InvariantCulture, out double seconds)
                    && seconds is > 0 and < MaxSeconds
                ? TimeSpan.FromSeconds(seconds)
                : null;
            var entry = new PlaylistEntry(PathOf(Cell("path")), Cell("title"), Cell("artist"), duration) { Album = Cell("album") };
            if (entry.Path.Length + entry.Title.Length > 0)
                entries.Add(entry);
        }

        return entries.Count > 0 ? new Playlist("", entries) : null;
    }

    private static IEnumerable<List<string>> LinesOf(string text)
    {
        var cells = new List<string>();
        var cell = new StringBuilder();
        bool isQuoted = false;
        for (int i = 0; i < text.Length; i++)
        {
            char c = text[i];
            if (isQuoted && c == '"' && i + 1 < text.Length && text[i + 1] == '"')
                cell.Append(text[i++]);
            else if (c == '"' && (isQuoted || cell.Length == 0))
                isQuoted = !isQuoted;
            else if (c == ',' && !isQuoted)
                Next();
            else if (c is '\n' or '\r' && !isQuoted)
            {
                Next();
                if (cells.Count > 1 || cells[0].Length > 0)
                    yield return cells;
                cells = [];
            }
            else
                cell.Append(c);
        }

        Next();
        if (cells.Count > 1 || cells[0].Length > 0)
            yield return cells;

        void Next()
        {
            cells.Add(cell.ToString());
            cell.Clear();
        }
    }

    /// <summary>
    /// Spreadsheets take a cell that begins so for a formula; behind an apostrophe it is text (common practice, no source).
    /// </summary>
    private static string Guarded(string cell) =>
        cell.Length > 0
                && (
                    cell[0] is '=' or '+' or '-' or '@' or '\t'
                        || cell[0] == '\'' && cell.Length > 1 && cell[1] is '=' or '+' or '-' or '@' or '\t' or '\'')
            ? "'" + cell
            : cell;

    private static string Unguarded(string cell) =>
        cell.Length > 1 && cell[0] == '\'' && cell[1] is '=' or '+' or '-' or '@' or '\t' or '\'' ? cell[1..] : cell;

    private static string Quoted(string cell) =>
        cell.AsSpan().IndexOfAny(",\"\r\n ") >= 0 ? $"\"{cell.Replace("\"", "\"\"", StringComparison.Ordinal)}\"" : cell;
}
