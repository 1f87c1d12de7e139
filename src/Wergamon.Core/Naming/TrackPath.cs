using System.Globalization;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Naming;

/// <summary>Where a new copy goes below its target's folder.</summary>
public static class TrackPath
{
    /// <summary>The pattern of targets for which the person has not chosen another.</summary>
    public const string UsualNames = """{album artist or artist}/{album}/{disc "-"}{track:00} {title}""";

    private static readonly NamePattern Usual = NamePattern.Parse(UsualNames).Pattern!;

    /// <summary>The pattern that a text means; the usual one without a text, or where it is no pattern.</summary>
    public static NamePattern PatternOf(string? names) => names is null ? Usual : NamePattern.Parse(names).Pattern ?? Usual;

    /// <summary>Reads names as a person typed them.</summary>
    /// <returns>The pattern, null for the usual one and for none; or in words why it is no pattern.</returns>
    public static (string? Names, string? Problem) ReadTyped(string? typed)
    {
        var text = (typed ?? "").ReplaceLineEndings("").Trim();
        if (text.Length == 0 || text == UsualNames)
            return (null, null);
        return NamePattern.Parse(text).Problem is { } problem ? (null, problem) : (text, null);
    }

    /// <summary>
    /// The path with '/' between its parts, each of them safe. Missing names become "Unknown artist", "Unknown album" and "Untitled"; the
    /// number of the disc counts only where there are several.
    /// </summary>
    /// <param name="extension">With its dot.</param>
    /// <param name="names">Null for the usual pattern.</param>
    public static string For(TagSet tags, string extension, NamePattern? names = null)
    {
        var pattern = names ?? Usual;
        var known = new TagSet();
        foreach (var field in pattern.Fields)
            known.Set(field, tags[field]);
        SetIfMissing(known, FieldNames.Artist, tags.First(FieldNames.AlbumArtist) ?? "Unknown artist");
        SetIfMissing(known, FieldNames.Album, "Unknown album");
        SetIfMissing(known, FieldNames.Title, "Untitled");
        if (!(tags.Number(FieldNames.DiscTotal) > 1 || tags.Number(FieldNames.Disc) > 1))
            known.Set(FieldNames.Disc);
        return pattern.Format(known, extension);
    }

    /// <summary>The path with a number after the name, for a name that is taken: "03 Title (2).mp3".</summary>
    public static string Numbered(string path, int number) =>
        string.Create(CultureInfo.InvariantCulture, $"{path[..^Path.GetExtension(path).Length]} ({number}){Path.GetExtension(path)}");

    private static void SetIfMissing(TagSet tags, string field, string value)
    {
        if (tags[field].Count == 0)
            tags.Set(field, value);
    }
}
