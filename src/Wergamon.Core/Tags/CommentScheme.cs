using System.Globalization;
using System.Text.RegularExpressions;

namespace Wergamon.Core.Tags;

/// <summary>Something that is rated from 1 up: "energy 4".</summary>
public sealed record CommentScale(string Name, int Max);

/// <summary>What a comment says by the scheme.</summary>
/// <param name="Ratings">By the name of the scale.</param>
/// <param name="Words">In any order.</param>
public sealed record CommentParts(IReadOnlyDictionary<string, int> Ratings, IReadOnlyList<string> Words)
{
    public static CommentParts None { get; } = new(new Dictionary<string, int>(), []);
}

/// <summary>
/// A person's own way to fill comments: fields, ratings and words in a fixed order, in front of or behind what else is there, from which
/// a bar sets them apart. What was written by a scheme is read back into its parts.
/// </summary>
public sealed partial record CommentScheme
{
    private const string Between = ", ", Bar = " | ";

    /// <summary>Fields whose value is part of the comment: key and tempo.</summary>
    public IReadOnlyList<string> Fields { get; init; } = [FieldNames.Key];

    public IReadOnlyList<CommentScale> Scales { get; init; } = [new CommentScale("energy", 5)];

    public IReadOnlyList<string> Words { get; init; } = ["vocal", "brass", "slow", "bright", "dark"];

    /// <summary>True to write in front of other text.</summary>
    public bool IsInFront { get; init; } = true;

    /// <summary>Fields that a scheme can write.</summary>
    public static IReadOnlyList<string> PossibleFields { get; } = [FieldNames.Key, FieldNames.Tempo];

    /// <summary>The comment for these parts, with the other text kept.</summary>
    public string Write(CommentParts parts, TagSet tags, string rest)
    {
        var tokens = Fields.Select(field => FieldToken(field, tags)).OfType<string>()
            .Concat(
                Scales.Where(scale => parts.Ratings.ContainsKey(scale.Name))
                    .Select(scale => string.Create(CultureInfo.InvariantCulture, $"{scale.Name} {parts.Ratings[scale.Name]}")))
            .Concat(Words.Where(word => parts.Words.Contains(word, StringComparer.OrdinalIgnoreCase))).ToList();
        var made = parts.Ratings.Count + parts.Words.Count == 0 ? "" : string.Join(Between, tokens);
        return made.Length == 0 ? rest : rest.Length == 0 ? made : IsInFront ? made + Bar + rest : rest + Bar + made;
    }

    /// <summary>The parts of a comment, and the text that is not of the scheme.</summary>
    public (CommentParts Parts, string Other) Read(string comment)
    {
        var sections = comment.Split(Bar);
        foreach (int at in sections.Length == 1 ? new[] { 0 } : [IsInFront ? 0 : sections.Length - 1, IsInFront ? sections.Length - 1 : 0])
        {
            if (Parse(sections[at]) is { } parts)
                return (parts, string.Join(Bar, sections.Where((_, i) => i != at)));
        }

        return (CommentParts.None, comment);
    }

    private static string? FieldToken(string field, TagSet tags) =>
        tags.First(field) is not { } value ? null : field == FieldNames.Tempo ? value + " BPM" : value;

    /// <summary>Null where a part is not of the scheme.</summary>
    private CommentParts? Parse(string section)
    {
        var ratings = new Dictionary<string, int>(StringComparer.OrdinalIgnoreCase);
        var words = new List<string>();
        foreach (var token in section.Split(Between, StringSplitOptions.TrimEntries))
        {
            if (Words.FirstOrDefault(word => word.Equals(token, StringComparison.OrdinalIgnoreCase)) is { } word)
                words.Add(word);
            else if (Scales.FirstOrDefault(scale => token.StartsWith(scale.Name + " ", StringComparison.OrdinalIgnoreCase)) is { } scale
                && int.TryParse(token.AsSpan(scale.Name.Length + 1), NumberStyles.None, CultureInfo.InvariantCulture, out int rating)
                && rating >= 1 && rating <= scale.Max)
                ratings[scale.Name] = rating;
            else if (!Key().IsMatch(token) && !Tempo().IsMatch(token))
                return null;
        }

        return ratings.Count + words.Count == 0 ? null : new CommentParts(ratings, words);
    }

    [GeneratedRegex("^[A-G](#|b|♯|♭| sharp| flat)?( ?(major|minor|maj|min|m))?$", RegexOptions.IgnoreCase)]
    private static partial Regex Key();

    [GeneratedRegex("^[0-9]{2,3}([.][0-9]+)? BPM$", RegexOptions.IgnoreCase)]
    private static partial Regex Tempo();
}
