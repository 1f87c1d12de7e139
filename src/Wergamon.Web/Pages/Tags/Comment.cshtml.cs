using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Wergamon.App.Tags;
using Wergamon.Core.Tags;

namespace Wergamon.Web.Pages.Tags;

public sealed record CommentLine(long CopyId, string Title, string Name, CommentParts Parts, string Comment, bool IsChanged);

/// <summary>Comments by the person's own scheme, filled by keyboard.</summary>
public sealed class CommentModel(TagSheets sheets, CommentSchemes schemes) : SheetPageModel(sheets)
{
    private const int MaxParts = 30, MaxFigure = 10;

    /// <summary>Letters that keys of the page use already.</summary>
    private const string UsedLetters = "jkxangp";

    public override string Tab => "Comment";

    public CommentScheme Scheme { get; private set; } = new();

    public IReadOnlyList<CommentLine> Lines { get; private set; } = [];

    /// <summary>The words, each with the letter that sets it.</summary>
    public IReadOnlyList<(string Word, string? Key)> Keys { get; private set; } = [];

    public void OnGet() => Show();

    public IActionResult OnPostSet(long copy, string? scale, int figure, string? word, bool isOn)
    {
        Scheme = schemes.Current;
        var tags = EditedOf(copy);
        var (parts, rest) = Scheme.Read(FieldText.Join(tags[FieldNames.Comment]));
        var ratings = parts.Ratings.ToDictionary(StringComparer.OrdinalIgnoreCase);
        var words = parts.Words.ToList();
        if (scale is not null && figure > 0)
            ratings[scale] = figure;
        else if (scale is not null)
            ratings.Remove(scale);
        if (word is not null && isOn)
            words.Add(word);
        else if (word is not null)
            words.RemoveAll(each => each == word);
        var comment = Scheme.Write(new CommentParts(ratings, words), tags, rest);
        Sheets.SetFields(Sheet.Id, [(copy, FieldNames.Comment, comment.Length == 0 ? [] : [comment])]);
        return Redirect($"/tags/{Sheet.Id}/comment");
    }

    public IActionResult OnPostScheme(string? scales, string? words, string[] fields, bool isInFront)
    {
        var rated = Split(scales).Select(
            text => text.LastIndexOf(' ') is > 0 and var blank
                && int.TryParse(text.AsSpan(blank + 1), NumberStyles.None, CultureInfo.InvariantCulture, out int max)
                && max is >= 2 and <= MaxFigure
            ? new CommentScale(text[..blank], max) : null).OfType<CommentScale>();
        schemes.Current = new CommentScheme
        {
            Scales = [.. rated],
            Words = [.. Split(words)],
            Fields = [.. CommentScheme.PossibleFields.Where(fields.Contains)],
            IsInFront = isInFront
        };
        return Redirect($"/tags/{Sheet.Id}/comment");
    }

    private static IEnumerable<string> Split(string? text) =>
        (text ?? "").Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)
            .Distinct(StringComparer.OrdinalIgnoreCase)
            .Take(MaxParts);

    private void Show()
    {
        Scheme = schemes.Current;
        Keys = AssignKeys();
        Lines = [.. Files.Select(file =>
        {
            var tags = EditedOf(file.CopyId);
            var comment = FieldText.Join(tags[FieldNames.Comment]);
            var name = Path.GetFileName(file.Path);
            return new CommentLine(
                file.CopyId, tags.First(FieldNames.Title) ?? name, name, Scheme.Read(comment).Parts, comment,
                !tags[FieldNames.Comment].SequenceEqual(HeldBy(file.CopyId)[FieldNames.Comment]));
        })];
    }

    private List<(string Word, string? Key)> AssignKeys()
    {
        var free = Enumerable.Range('a', 26).Select(letter => (char)letter).Except(UsedLetters).ToHashSet();
        return [
            .. Scheme.Words.Select(
                word => (word, word.ToLowerInvariant().Where(free.Remove).Select(letter => letter.ToString()).FirstOrDefault()))
        ];
    }
}
