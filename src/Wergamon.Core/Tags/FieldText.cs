using System.Text.RegularExpressions;

namespace Wergamon.Core.Tags;

/// <summary>The values of a field as one line of text, and back.</summary>
public static partial class FieldText
{
    private const string Separator = "; ";

    /// <summary>Fields that name several people or kinds; in others a semicolon is part of the text.</summary>
    private static readonly HashSet<string> Lists = new(StringComparer.OrdinalIgnoreCase)
    {
        FieldNames.Artist, FieldNames.AlbumArtist, FieldNames.Genre, FieldNames.Composer, FieldNames.Lyricist, FieldNames.Conductor,
        FieldNames.Remixer, FieldNames.Mood, FieldNames.Language,
        FieldNames.Publisher, FieldNames.ArtistSort, FieldNames.AlbumArtistSort,
    };

    public static string Join(IReadOnlyList<string> values) => values.Count == 1 ? values[0] : string.Join(Separator, values);

    /// <summary>The values that a text holds; none for an empty one.</summary>
    /// <param name="before">The values so far: unchanged text means unchanged values, however they were separated.</param>
    public static IReadOnlyList<string> Split(string field, string text, IReadOnlyList<string> before)
    {
        if (text == Join(before))
            return before;
        if (text.Trim().Length == 0)
            return [];
        if (field.Equals(FieldNames.Chapters, StringComparison.OrdinalIgnoreCase))
            return [.. BetweenChapters().Split(text.Trim())];
        return Lists.Contains(field)
            ? [.. text.Split(';', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)]
            : [text.Trim()];
    }

    /// <summary>The title of a chapter may have semicolons; the next one starts with its time.</summary>
    [GeneratedRegex("; *(?=[0-9]{2}:[0-9]{2}:[0-9]{2}[.])")]
    private static partial Regex BetweenChapters();
}
