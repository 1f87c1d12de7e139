using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Naming;

/// <summary>A part of a pattern: fixed text, or a field in braces.</summary>
/// <param name="Text">The fixed text; empty for a field.</param>
/// <param name="Fields">The field, and those that stand in for it when it is empty; none for fixed text.</param>
/// <param name="Width">Least number of digits of a number; 0 for any.</param>
/// <param name="Before">Text in front of the field that goes away with it.</param>
/// <param name="After">Text behind the field that goes away with it.</param>
public sealed record PatternPart(string Text, IReadOnlyList<string> Fields, int Width = 0, string Before = "", string After = "")
{
    public bool IsField => Fields.Count > 0;
}

/// <summary>A piece of a name that a field was read from.</summary>
/// <param name="Start">Where it starts, in characters from the start of the name.</param>
/// <param name="Value">As the field gets it.</param>
public sealed record NamePiece(string Field, int Start, int Length, string Value);

/// <summary>
/// How names are made of fields and fields read from names: fixed text, and in braces a field, "or" and another field for when it is
/// empty, a width of zeros behind a colon for numbers, and quoted text that goes away with the field. A slash separates folders.
/// </summary>
/// <example>{album artist or artist}/{year} {album}/{disc "-"}{track:00} {title}</example>
public sealed class NamePattern
{
    private const int MaxLength = 500;
    private const int MaxFields = 20;

    private static readonly HashSet<string> Numbers = new(StringComparer.OrdinalIgnoreCase)
    {
        FieldNames.Track, FieldNames.TrackTotal, FieldNames.Disc, FieldNames.DiscTotal, FieldNames.Tempo
    };
    private static readonly HashSet<string> Known = new(FieldNames.All, StringComparer.OrdinalIgnoreCase);

    private readonly Lazy<(Regex Regex, IReadOnlyList<string> Fields)> _reader;

    private NamePattern(string text, IReadOnlyList<PatternPart> parts)
    {
        (Text, Parts) = (text, parts);
        Fields = [
            .. parts.SelectMany(part => part.Fields.SelectMany(field => TotalOf(field) is { } total ? (string[])[field, total] : [field]))
                .Distinct()
        ];
        _reader = new Lazy<(Regex, IReadOnlyList<string>)>(() => ReaderOf(parts));
    }

    /// <summary>As it was written.</summary>
    public string Text { get; }

    public IReadOnlyList<PatternPart> Parts { get; }

    /// <summary>All fields that a name depends on, each once; totals with their numbers, which take as many digits.</summary>
    public IReadOnlyList<string> Fields { get; }

    /// <summary>Folders and file name that it describes.</summary>
    public int Levels => 1 + Parts.Sum(part => part.Text.Count(c => c == '/'));

    /// <summary>Reads a pattern.</summary>
    /// <returns>The pattern, or in words why it is none.</returns>
    public static (NamePattern? Pattern, string? Problem) Parse(string text)
    {
        if (text.Length is 0 or > MaxLength)
            return (null, text.Length == 0 ? "The pattern is empty." : "The pattern is too long.");
        var parts = new List<PatternPart>();
        for (int at = 0; at < text.Length;)
        {
            if (text[at] == '}')
                return (null, "There is a closing brace without an opening one.");
            if (text[at] != '{')
            {
                int next = text.IndexOfAny(['{', '}'], at);
                parts.Add(new PatternPart(text[at..(next < 0 ? text.Length : next)], []));
                at = next < 0 ? text.Length : next;
                continue;
            }

            int end = EndOfField(text, at);
            if (end < 0)
                return (null, "A brace is not closed.");
            var (part, problem) = ParseField(text[(at + 1)..end]);
            if (part is null)
                return (null, problem);
            parts.Add(part);
            at = end + 1;
        }

        if (parts.Count(part => part.IsField) > MaxFields)
            return (null, "The pattern has too many fields.");
        return parts.Any(part => part.IsField)
            ? (new NamePattern(text, parts), null)
            : (null, "The pattern names no field. Write one in braces, for example {title}.");
    }

    /// <summary>
    /// The path that the pattern gives for tags, with '/' between its parts, each of them safe; folders without text are left out.
    /// </summary>
    /// <param name="extension">With its dot.</param>
    public string Format(TagSet tags, string extension, NameLimits? limits = null)
    {
        var text = new StringBuilder();
        foreach (var part in Parts)
            text.Append(part.IsField ? TextOf(part, tags) : part.Text);
        var levels = text.ToString().Split('/').Select(level => level.Trim()).ToList();
        var name = SafeFileName.From(levels[^1], extension, "Untitled", limits);
        var folders = levels.SkipLast(1).Where(level => level.Length > 0).Select(level => SafeFileName.From(level, limits: limits));
        return string.Join('/', folders.Append(name));
    }

    /// <summary>
    /// A field that the file name needs and the tags lack; null where nothing is missing. Fields with quoted text may be empty.
    /// </summary>
    public string? MissingIn(TagSet tags)
    {
        int last = 0;
        for (int i = 0; i < Parts.Count; i++)
            last = Parts[i].Text.Contains('/', StringComparison.Ordinal) ? i : last;
        return Parts.Skip(last)
            .FirstOrDefault(
                part => part.IsField && part.Before.Length + part.After.Length == 0
                    && part.Fields.All(field => tags[field].Count == 0))?.Fields[0];
    }

    /// <summary>The fields that a name gives; null where it does not fit.</summary>
    /// <param name="path">With '/' between folders, without extension. As many of its last parts are read as the pattern has.</param>
    public IReadOnlyList<NamePiece>? Read(string path)
    {
        var levels = path.Split('/');
        if (levels.Length < Levels)
            return null;
        var name = string.Join('/', levels[^Levels..]);
        // Underscores stand for blanks where there are no blanks.
        var readable = name.Contains(' ', StringComparison.Ordinal) ? name : name.Replace('_', ' ');
        var match = _reader.Value.Regex.Match(readable);
        if (!match.Success)
            return null;
        var pieces = new List<NamePiece>();
        for (int i = 0; i < _reader.Value.Fields.Count; i++)
        {
            var group = match.Groups[i + 1];
            if (!group.Success || group.Length == 0)
                continue;
            var field = _reader.Value.Fields[i];
            // A blank at the border belongs to a separator that the pattern does not have.
            if (group.Value[0] == ' ' || group.Value[^1] == ' ')
                return null;
            var value = ValueOf(field, group.Value);
            var twin = pieces.Find(piece => piece.Field == field);
            if (twin is not null && !twin.Value.Equals(value, StringComparison.OrdinalIgnoreCase))
                return null;
            if (twin is null)
                pieces.Add(new NamePiece(field, group.Index + path.Length - name.Length, group.Length, value));
        }

        return pieces;
    }

    private static int EndOfField(string text, int open)
    {
        bool isQuoted = false;
        for (int i = open + 1; i < text.Length; i++)
        {
            if (text[i] == '"')
                isQuoted = !isQuoted;
            else if (text[i] == '}' && !isQuoted)
                return i;
        }

        return -1;
    }

    private static (PatternPart? Part, string? Problem) ParseField(string inside)
    {
        var rest = inside.Trim();
        string before = TakeQuoted(ref rest, atStart: true), after = TakeQuoted(ref rest, atStart: false);
        if (rest.Contains('"', StringComparison.Ordinal))
            return (null, $"In {{{inside}}} a quotation mark is not closed.");
        int width = 0;
        if (rest.Split(':') is [var names, var zeros])
        {
            if (zeros.Trim().Length == 0 || zeros.Trim().Any(c => c != '0'))
                return (null, $"In {{{inside}}} the width has to be zeros, for example {{track:00}}.");
            (rest, width) = (names, zeros.Trim().Length);
        }

        string[] fields = [.. rest.Split(" or ").Select(name => name.Trim())];
        foreach (var field in fields)
        {
            if (!Known.Contains(field))
                return (
                    null,
                    field.Length == 0 ? "There is a pair of braces without a field." : $"There is no field \"{field}\".{Nearest(field)}");
        }

        return (
            new PatternPart(
                "", [.. fields.Select(field => FieldNames.All.First(known => known.Equals(field, StringComparison.OrdinalIgnoreCase)))],
                width, before, after),
            null);
    }

    private static string TakeQuoted(ref string rest, bool atStart)
    {
        if (rest.Length < 2 || rest[atStart ? 0 : ^1] != '"')
            return "";
        int other = atStart ? rest.IndexOf('"', 1) : rest.LastIndexOf('"', rest.Length - 2);
        if (other < 0)
            return "";
        var quoted = atStart ? rest[1..other] : rest[(other + 1)..^1];
        rest = (atStart ? rest[(other + 1)..] : rest[..other]).Trim();
        return quoted;
    }

    private static string Nearest(string field)
    {
        var near = FieldNames.All.Where(
            known => 2 * known.AsSpan().CommonPrefixLength(field.ToLowerInvariant()) >= Math.Max(known.Length, field.Length)).ToList();
        return near.Count is > 0 and < 4 ? $" Is it {string.Join(" or ", near.Select(name => "{" + name + "}"))}?" : "";
    }

    private static string TextOf(PatternPart part, TagSet tags)
    {
        var values = part.Fields.Select(field => (Field: field, Values: tags[field])).FirstOrDefault(each => each.Values.Count > 0);
        if (values.Values is null)
            return "";
        // A slash of a value is no folder.
        var value = string.Join(", ", values.Values).Replace('/', '-');
        if (part.Width > 0 && int.TryParse(value, NumberStyles.None, CultureInfo.InvariantCulture, out int number))
            value = number.ToString(CultureInfo.InvariantCulture).PadLeft(Math.Max(part.Width, DigitsOfTotal(values.Field, tags)), '0');
        return part.Before + value + part.After;
    }

    /// <summary>As many digits as the last number of the album has, so that players that sort by name keep the order.</summary>
    private static int DigitsOfTotal(string field, TagSet tags) =>
        TotalOf(field) is { } total ? tags.Number(total)?.ToString(CultureInfo.InvariantCulture).Length ?? 0 : 0;

    private static string? TotalOf(string field) =>
        field switch { FieldNames.Track => FieldNames.TrackTotal, FieldNames.Disc => FieldNames.DiscTotal, _ => null };

    private static string ValueOf(string field, string text) =>
        Numbers.Contains(field) && int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out int number)
            ? number.ToString(CultureInfo.InvariantCulture)
            : text.Trim();

    private static (Regex Regex, IReadOnlyList<string> Fields) ReaderOf(IReadOnlyList<PatternPart> parts)
    {
        var text = new StringBuilder("^\\s*");
        var fields = new List<string>();
        for (int i = 0; i < parts.Count; i++)
        {
            var part = parts[i];
            if (!part.IsField)
            {
                text.Append(Fixed(part.Text));
                continue;
            }

            fields.Add(part.Fields[0]);
            var group = Numbers.Contains(part.Fields[0]) ? (part.Width > 1 ? $"([0-9]{{1,{Math.Max(3, part.Width)}}})" : "([0-9]{1,4})")
                : part.Fields[0] is FieldNames.Year or FieldNames.OriginalYear ? "([12][0-9]{3}(?:-[0-9]{2}){0,2})"
                : "([^/]+?)";
            bool isOptional = part.Before.Length + part.After.Length > 0;
            text.Append(isOptional ? $"(?:{Fixed(part.Before)}{group}{Fixed(part.After)})?" : group);
        }

        return (
            new Regex(
                text.Append("\\s*$").ToString(), RegexOptions.NonBacktracking | RegexOptions.CultureInvariant | RegexOptions.IgnoreCase),
            fields);
    }

    /// <summary>Blanks match several; dashes of any length match each other.</summary>
    private static string Fixed(string text)
    {
        var escaped = new StringBuilder();
        foreach (char c in text)
        {
            escaped.Append(c switch
            {
                ' ' or '_' => "\\s+",
                '-' or '–' or '—' => "[-–—]",
                _ => Regex.Escape(c.ToString()),
            });
        }

        return escaped.ToString();
    }
}
