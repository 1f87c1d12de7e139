using System.Text.RegularExpressions;

namespace Wergamon.Core.Tags.Tidying;

/// <summary>Web addresses and shop adverts in fields that are not for them. The words are common practice, no source.</summary>
public static partial class Adverts
{
    private static readonly string[] Fields = [
        FieldNames.Comment, FieldNames.Title, FieldNames.Album, FieldNames.Artist, FieldNames.Genre, FieldNames.EncodedBy,
        FieldNames.Grouping
    ];

    /// <summary>Fields that are searched.</summary>
    public static IReadOnlyList<string> LookedAt => Fields;

    public static bool IsIn(string text) => Address().IsMatch(text) || Slogan().IsMatch(text);

    /// <summary>The text without addresses and slogans; empty when nothing else was there.</summary>
    public static string Remove(string text)
    {
        if (!IsIn(text))
            return text;
        // A sentence with an advert goes whole; a bracket as well.
        var kept = Bracket().Replace(text, match => IsIn(match.Value) ? " " : match.Value);
        kept = string.Join(
            ' ', Sentence().Matches(kept).Select(match => match.Value.Trim()).Where(sentence => sentence.Length > 0 && !IsIn(sentence)));
        return Spaces.Tidy(kept.Trim(' ', '-', '|', ',', ';', ':', '/', '~', '*'));
    }

    [GeneratedRegex(
        @"(https?://|www\.)\S+|\b[a-z0-9][a-z0-9-]{1,40}\.(com|net|org|info|biz|shop|store|example|co\.uk|fm|tv|ru|de|fr|nl|eu)\b",
        RegexOptions.IgnoreCase)]
    private static partial Regex Address();

    [GeneratedRegex(
        @"\b(downloaded from|download (more|free)|purchased (at|from)|bought (at|from)|visit us|get (more|your) music|more music (at|from)|"
            + @"free mp3s?|ripped by|uploaded by|buy (it|this|more) (at|from))\b",
        RegexOptions.IgnoreCase)]
    private static partial Regex Slogan();

    [GeneratedRegex(@"\s*[\(\[][^\)\]]*[\)\]]")]
    private static partial Regex Bracket();

    [GeneratedRegex(@"[^.!?\n]*(?:[.!?](?=\S)[^.!?\n]*)*(?:[.!?]+|\n|$)")]
    private static partial Regex Sentence();
}
