using System.Globalization;
using System.Text.RegularExpressions;

namespace Wergamon.Core.Naming;

/// <summary>A pattern that names seem to follow.</summary>
/// <param name="Fits">How many of the names it explains.</param>
public sealed record PatternProposal(NamePattern Pattern, int Fits);

/// <summary>
/// Proposes patterns for a selection of names. Names are taken apart at a leading number and at the separators that they share; which
/// column is which field follows from what it holds (numbers, years), from what stays the same in all names, and from its place.
/// </summary>
/// <remarks>The habits are common practice: no source.</remarks>
public static partial class PatternGuess
{
    private const int MaxProposals = 6;
    private const int NamesLookedAt = 400;

    /// <summary>A number at the end of a name within this range is a tempo.</summary>
    private const int LeastTempo = 60, MaxTempo = 220;

    private static readonly string[] Separators = [" - ", " – ", " — ", " _ ", "_-_", " ~ ", "-", "_"];

    /// <summary>Likely patterns, the best first; at least one, the title alone.</summary>
    /// <param name="paths">With '/' between folders, without extension.</param>
    public static IReadOnlyList<PatternProposal> For(IReadOnlyList<string> paths)
    {
        var looked = paths.Take(NamesLookedAt).ToList();
        var names = looked.Select(path => path[(path.LastIndexOf('/') + 1)..]).ToList();
        var candidates = new List<string>();
        foreach (var group in names.Select(Shape.Of)
            .GroupBy(shape => (shape.Kind, shape.Separator, shape.Columns.Count))
            .OrderByDescending(group => group.Count())
            .Take(3))
            candidates.AddRange(Compose([.. group]));
        candidates.Add("{title}");
        var withFolders = FolderPattern(looked) is { } folder ? candidates.Take(2).Select(name => folder + "/" + name).ToList() : [];
        int order = 0;
        return
        [
            .. withFolders.Concat(candidates)
                .Distinct()
                .Select(text => (Pattern: NamePattern.Parse(text).Pattern, Order: order++))
                .Where(each => each.Pattern is not null)
                .Select(
                    each =>
                        (each.Order,
                            Proposal: new PatternProposal(
                                each.Pattern!,
                                paths.Count(path => each.Pattern!.Read(path) is not null)))).Where(each => each.Proposal.Fits > 0)
                // The title alone fits everything and says little.
                .OrderBy(each => each.Proposal.Pattern.Parts.Count == 1)
                    .ThenByDescending(each => Math.Round(20.0 * each.Proposal.Fits / paths.Count))
                    .ThenBy(each => each.Order)
                .Select(each => each.Proposal).Take(MaxProposals),
        ];
    }

    /// <summary>Patterns for names of one shape.</summary>
    private static IEnumerable<string> Compose(IReadOnlyList<Shape> shapes)
    {
        var first = shapes[0];
        var fields = Assign(shapes);
        var text = first.Head;
        var separator = first.Separator.Length == 0 ? " " : first.Separator;
        var whole = text + string.Join(separator, fields);
        // A remix in brackets behind the title is worth a field of its own where most names have one.
        int remixes = shapes.Count(shape => Remix().IsMatch(shape.Columns[^1]));
        if (remixes > 0 && whole.EndsWith("{title}", StringComparison.Ordinal))
        {
            var remix = whole + " ({remixer} remix)";
            if (2 * remixes > shapes.Count)
                return [remix, whole];
            return [whole, remix];
        }

        return [whole];
    }

    private static List<string> Assign(IReadOnlyList<Shape> shapes)
    {
        int columns = shapes[0].Columns.Count;
        bool hasNumber = shapes[0].Head.Contains("{track", StringComparison.Ordinal);
        var fields = new string?[columns];
        for (int i = 0; i < columns; i++)
        {
            var values = shapes.Select(shape => shape.Columns[i]).ToList();
            if (columns > 1 && values.All(value => YearOnly().IsMatch(value)) && !fields.Contains("{year}"))
                fields[i] = "{year}";
            else if (columns > 1 && i == columns - 1
                && values.All(
                    value => int.TryParse(value, NumberStyles.None, CultureInfo.InvariantCulture, out int number)
                        && number is >= LeastTempo and <= MaxTempo))
                fields[i] = "{tempo}";
            else if (columns > 1 && values.All(value => Digits().IsMatch(value)))
                (fields[i], hasNumber) = (hasNumber ? "{disc}" : "{track}", true);
            else if (columns > 1 && !hasNumber && values.All(value => LeadingNumber().IsMatch(value)))
                (fields[i], hasNumber) = (
                    LeadingNumber().Match(values[0]).Groups["dot"].Success ? "{track}. {title}" : "{track} {title}", true);
            else if (columns > 1 && values.All(value => DiscAndTrack().IsMatch(value)) && !hasNumber)
                (fields[i], hasNumber) = ("{disc}-{track} {title}", true);
            else if (columns > 1 && i == columns - 1 && values.All(value => TempoAtEnd().IsMatch(value)))
                fields[i] = "{tempo} bpm";
        }

        var open = Enumerable.Range(0, columns).Where(i => fields[i] is null).ToList();
        if (fields.Any(field => field?.EndsWith("{title}", StringComparison.Ordinal) == true))
        {
            // What precedes "01 Title" are artist and album.
            NameBefore(shapes, fields, open);
        }
        else
        {
            PlaceTitle(shapes, fields, open, hasNumber);
        }

        return [.. fields.Select(field => field ?? "{title}")];
    }

    private static void NameBefore(IReadOnlyList<Shape> shapes, string?[] fields, List<int> open)
    {
        if (open.Count == 1)
            fields[open[0]] = shapes.Count > 1 && Distinct(shapes, open[0]) > 1 ? "{artist}" : "{album}";
        else if (open.Count > 1)
            (fields[open[0]], fields[open[1]]) = ("{artist}", "{album}");
        if (open.Count > 2)
            fields[open[2]] = "{subtitle}";
    }

    private static void PlaceTitle(IReadOnlyList<Shape> shapes, string?[] fields, List<int> open, bool hasNumber)
    {
        switch (open.Count)
        {
            case 0:
                return;
            case 1:
                fields[open[0]] = "{title}";
                return;
            case 2:
                // "Title - Artist" only shows when the artist stays the same and the title does not.
                bool isTurned = !hasNumber && shapes.Count > 2 && Distinct(shapes, open[1]) == 1 && Distinct(shapes, open[0]) > 1;
                int track = Array.IndexOf(fields, "{track}");
                bool hasTrackBetween = track > open[0] && track < open[1];
                (fields[open[0]], fields[open[1]]) = isTurned
                    ? ("{title}", "{artist}")
                    : hasTrackBetween && shapes.Count > 1 && Distinct(shapes, open[0]) == 1 && fields.Length == 3
                        && shapes[0].Head.Length == 0 && LooksLikeAlbum(shapes, open[0])
                    ? ("{album}", "{title}")
                    : ("{artist}", "{title}");
                return;
            default:
                (fields[open[0]], fields[open[1]]) = ("{artist}", "{album}");
                fields[open[^1]] = "{title}";
                if (open.Count == 3 && shapes.Count > 2 && Distinct(shapes, open[1]) == shapes.Count
                    && Distinct(shapes, open[2]) < shapes.Count)
                    (fields[open[1]], fields[open[2]]) = ("{title}", "{album}");
                for (int i = 2; i < open.Count - 1; i++)
                    fields[open[i]] = "{subtitle}";
                return;
        }
    }

    private static bool LooksLikeAlbum(IReadOnlyList<Shape> shapes, int column) => YearInBrackets().IsMatch(shapes[0].Columns[column]);

    private static int Distinct(IReadOnlyList<Shape> shapes, int column) =>
        shapes.Select(shape => shape.Columns[column]).Distinct(StringComparer.OrdinalIgnoreCase).Count();

    /// <summary>The pattern of the folder that the files are in, where it names artist, album or year.</summary>
    private static string? FolderPattern(List<string> paths)
    {
        var folders = paths.Select(path => path.Split('/'))
            .Where(levels => levels.Length > 1)
            .Select(levels => levels[^2])
            .Distinct(StringComparer.Ordinal)
            .ToList();
        if (folders.Count == 0)
            return null;
        foreach (var (regex, pattern) in ((Regex, string)[])[
            (ArtistAlbumYear(), "{album artist} - {album} ({year})"), (YearArtistAlbum(), "{year} - {album artist} - {album}"),
            (ArtistYearAlbum(), "{album artist} - {year} - {album}"),
            (YearAlbum(), "{year} - {album}"), (AlbumYear(), "{album} ({year})"), (ArtistAlbum(), "{album artist} - {album}")])
        {
            if (folders.All(folder => regex.IsMatch(folder)))
                return pattern;
        }

        return null;
    }

    /// <summary>A name taken apart: what its start means, the separator, and the columns.</summary>
    private sealed record Shape(string Kind, string Head, string Separator, IReadOnlyList<string> Columns)
    {
        public static Shape Of(string name)
        {
            var text = name.Trim();
            if (!text.Contains(' ', StringComparison.Ordinal))
                text = text.Replace("_-_", " - ", StringComparison.Ordinal).Replace('_', ' ');
            var (head, rest) = TakeNumber(text);
            foreach (var separator in Separators)
            {
                // A bare hyphen separates only where there are no blanks around others, as in "artist-title".
                if (separator is "-" && (rest.Contains(' ', StringComparison.Ordinal) && name.Contains(' ', StringComparison.Ordinal)))
                    continue;
                var columns = SplitOutsideBrackets(rest, separator);
                if (columns.Count > 1 && columns.All(column => column.Length > 0))
                    return new Shape(head, head, separator, columns);
            }

            return new Shape(head, head, "", [rest]);
        }

        private static (string Head, string Remainder) TakeNumber(string text)
        {
            foreach (var (regex, head) in ((Regex, string)[])[
                (DiscTrackStart(), "{disc}#{track}"), (BracketStart(), "[{track}] "), (RoundStart(), "({track}) "),
                (DotStart(), "{track}. "), (DashStart(), "{track} - "), (HyphenStart(), "{track}-"),
                (WordStart(), "Track {track} "), (BlankStart(), "{track} ")])
            {
                var match = regex.Match(text);
                if (!match.Success || text.Length == match.Length)
                    continue;
                var made = head == "{disc}#{track}"
                    ? "{disc}" + match.Groups["between"].Value + "{track}" + match.Groups["behind"].Value
                    : match.Groups["tight"].Success
                    ? head.TrimEnd()
                    : head;
                return (made, text[match.Length..].Trim());
            }

            return ("", text);
        }

        private static List<string> SplitOutsideBrackets(string text, string separator)
        {
            var columns = new List<string>();
            int depth = 0, from = 0;
            for (int i = 0; i < text.Length; i++)
            {
                depth += text[i] is '(' or '[' ? 1 : text[i] is ')' or ']' ? -1 : 0;
                if (depth > 0 || string.CompareOrdinal(text, i, separator, 0, separator.Length) != 0)
                    continue;
                columns.Add(text[from..i].Trim());
                from = i + separator.Length;
                i = from - 1;
            }

            columns.Add(text[from..].Trim());
            return columns;
        }
    }

    [GeneratedRegex(@"^[0-9]{1,3}$")]
    private static partial Regex Digits();

    [GeneratedRegex(@"^(19|20)[0-9]{2}$")]
    private static partial Regex YearOnly();

    [GeneratedRegex(@"^0?[0-9]{1,2}(?<dot>\.)?\s+\S")]
    private static partial Regex LeadingNumber();

    [GeneratedRegex(@"^[1-9]-[0-9]{2} \S")]
    private static partial Regex DiscAndTrack();

    [GeneratedRegex(@"^[0-9]{2,3} ?bpm$", RegexOptions.IgnoreCase)]
    private static partial Regex TempoAtEnd();

    [GeneratedRegex(@"\S \([^()]+ remix\)$", RegexOptions.IgnoreCase)]
    private static partial Regex Remix();

    [GeneratedRegex(@"\([12][0-9]{3}\)$")]
    private static partial Regex YearInBrackets();

    [GeneratedRegex(@"^[1-9](?<between>[-.])[0-9]{2}(?<behind>\s*[-.]\s+|\s+)(?=\S)")]
    private static partial Regex DiscTrackStart();

    [GeneratedRegex(@"^\[[0-9]{1,3}\](?:\s+|(?<tight>))")]
    private static partial Regex BracketStart();

    [GeneratedRegex(@"^\([0-9]{1,3}\)(?:\s+|(?<tight>))")]
    private static partial Regex RoundStart();

    [GeneratedRegex(@"^[0-9]{1,3}\.(?:\s+|(?<tight>)(?=\D))")]
    private static partial Regex DotStart();

    [GeneratedRegex(@"^[0-9]{1,3}\s+[-–—]\s+")]
    private static partial Regex DashStart();

    [GeneratedRegex(@"^[0-9]{1,3}-(?=\D)")]
    private static partial Regex HyphenStart();

    [GeneratedRegex(@"^Track\s+[0-9]{1,3}\s+(?=[^\s-])", RegexOptions.IgnoreCase)]
    private static partial Regex WordStart();

    /// <summary>
    /// One or two digits, or three with a leading zero: "99 Lanterns" alone could be a title, in which case other names decide.
    /// </summary>
    [GeneratedRegex(@"^([0-9]{1,2}|0[0-9]{2}|1[0-9]{2})\s+(?=\S)")]
    private static partial Regex BlankStart();

    [GeneratedRegex(@"^[^-]+? - .+ \([12][0-9]{3}\)$")]
    private static partial Regex ArtistAlbumYear();

    [GeneratedRegex(@"^[12][0-9]{3} - .+? - .+$")]
    private static partial Regex YearArtistAlbum();

    [GeneratedRegex(@"^.+? - [12][0-9]{3} - .+$")]
    private static partial Regex ArtistYearAlbum();

    [GeneratedRegex(@"^[12][0-9]{3} - .+$")]
    private static partial Regex YearAlbum();

    [GeneratedRegex(@"^.+ \([12][0-9]{3}\)$")]
    private static partial Regex AlbumYear();

    [GeneratedRegex(@"^[^-]+? - .+$")]
    private static partial Regex ArtistAlbum();
}
