using Microsoft.AspNetCore.Mvc;
using Wergamon.App.Library.Scan;
using Wergamon.App.Storage;
using Wergamon.App.Tags;
using Wergamon.Core.Naming;
using Wergamon.Core.Tags;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages.Tags;

/// <param name="Values">Text of each field, and whether it is new; null where the name does not fit.</param>
/// <param name="Other">A proposal that fits.</param>
public sealed record NameLine(string Name, IReadOnlyList<(string Text, bool IsNew)>? Values, string? Other);

/// <param name="Note">What is special about the new name.</param>
public sealed record RenameLine(long CopyId, string Old, string New, string Path, bool IsNew, string? Note);

/// <summary>Tags from file names by a pattern, and file names from tags.</summary>
public sealed class NamesModel(TagSheets sheets, MusicFolders folders, Settings settings) : SheetPageModel(sheets)
{
    public const int LinesShown = 200;

    private const string PatternKey = "name-pattern";
    private const string UsualName = "{track:00} {title}";

    public override string Tab => "From names";

    public bool IsFromNames { get; private set; } = true;

    public string PatternText { get; private set; } = "";

    /// <summary>Why the pattern cannot be used.</summary>
    public string? Problem { get; private set; }

    public IReadOnlyList<PatternProposal> Proposals { get; private set; } = [];

    public int Fits { get; private set; }

    public NameExample? Example { get; private set; }

    public IReadOnlyList<string> Fields { get; private set; } = [];

    public IReadOnlyList<NameLine> Lines { get; private set; } = [];

    public IReadOnlyList<RenameLine> Renames { get; private set; } = [];

    /// <summary>Cells, or files, that would change.</summary>
    public int Changes { get; private set; }

    public string Summary => Problem is not null ? "The pattern cannot be used"
        : IsFromNames
            ? $"{Plural.Count(Changes, "change")} from {Plural.Count(Fits, "name")}"
            : Changes == 0
            ? "No new names"
            : Plural.Count(Changes, "new name");

    public void OnGet(string? pattern, string? way)
    {
        IsFromNames = way != "to";
        if (IsFromNames)
            ShowTags(pattern);
        else
            ShowNames(pattern);
    }

    /// <summary>Puts what the names give onto the sheet.</summary>
    public IActionResult OnPostTake(string pattern)
    {
        if (NamePattern.Parse(pattern).Pattern is { } parsed)
            Sheets.SetFields(
                Sheet.Id,
                Files.SelectMany(
                    file =>
                        (parsed.Read(PathOf(file)) ?? []).Select(
                            piece =>
                                (file.CopyId, piece.Field, FieldText.Split(piece.Field, piece.Value, HeldBy(file.CopyId)[piece.Field])))));
        return Redirect($"/tags/{Sheet.Id}/review");
    }

    /// <summary>Puts new names onto the sheet.</summary>
    public IActionResult OnPostRename(string pattern)
    {
        if (NamePattern.Parse(pattern).Pattern is { } parsed)
        {
            settings.Write(PatternKey, [pattern], ListJson.Default.StringArray);
            Sheets.SetNames(Sheet.Id, [.. RenamesBy(parsed).Select(rename => (rename.CopyId, rename.Path))]);
        }

        return Redirect($"/tags/{Sheet.Id}/review");
    }

    private void ShowTags(string? pattern)
    {
        var paths = Files.Select(PathOf).ToList();
        var proposals = PatternGuess.For(paths);
        PatternText = pattern ?? (proposals.Count > 0 ? proposals[0].Pattern.Text : "{title}");
        Proposals = [.. proposals.Where(proposal => proposal.Pattern.Text != PatternText).Take(3)];
        (var parsed, Problem) = NamePattern.Parse(PatternText);
        if (parsed is null)
        {
            if (paths.Count > 0)
                Example = NameDrawing.Draw(Path.GetFileName(paths[0]), []);
            return;
        }

        Fields = [.. parsed.Parts.Where(part => part.IsField).Select(part => part.Fields[0]).Distinct()];
        var read = Files.Select((file, i) => (File: file, Path: paths[i], Pieces: parsed.Read(paths[i]))).ToList();
        Fits = read.Count(each => each.Pieces is not null);
        var example = read.FirstOrDefault(each => each.Pieces is not null);
        if (example.Pieces is null && read.Count > 0)
            example = read[0];
        if (example.Path is not null)
            Example = Drawn(example.Path, parsed.Levels, example.Pieces ?? []);
        Changes = read.Sum(each => each.Pieces?.Count(piece => IsNew(each.File, piece)) ?? 0);
        Lines = [.. read.Take(LinesShown).Select(each => new NameLine(
            Path.GetFileName(each.File.Path),
            each.Pieces is null
                ? null
                : [
                    .. Fields.Select(
                        field => each.Pieces.FirstOrDefault(piece => piece.Field == field) is { } piece
                            ? (piece.Value, IsNew(each.File, piece))
                            : ("", false))
                ],
            each.Pieces is null
                ? proposals.Select(proposal => proposal.Pattern).FirstOrDefault(other => other.Read(each.Path) is not null)?.Text
                : null))];
    }

    private void ShowNames(string? pattern)
    {
        PatternText = pattern ?? (settings.Read(PatternKey, ListJson.Default.StringArray) is [var last, ..] ? last : UsualName);
        (var parsed, Problem) = NamePattern.Parse(PatternText);
        if (parsed is null)
            return;
        Renames = RenamesBy(parsed);
        Changes = Renames.Count(rename => rename.IsNew);
    }

    private List<RenameLine> RenamesBy(NamePattern pattern)
    {
        var roots = folders.List().Select(folder => folder.Path).OrderByDescending(path => path.Length).ToList();
        var taken = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        var own = Files.Select(file => file.Path).ToHashSet(StringComparer.Ordinal);
        var lines = new List<RenameLine>();
        foreach (var file in Files)
        {
            // A pattern with folders starts at the music folder, one without stays where the file is.
            var folder = Path.GetDirectoryName(file.Path)!;
            var root = pattern.Levels > 1
                ? roots.FirstOrDefault(each => file.Path.StartsWith(each + "/", StringComparison.Ordinal)) ?? folder
                : folder;
            if (pattern.MissingIn(EditedOf(file.CopyId)) is { } missing)
            {
                taken.Add(file.Path);
                lines.Add(
                    new RenameLine(
                        file.CopyId, Path.GetRelativePath(root, file.Path), Path.GetRelativePath(root, file.Path), file.Path, false,
                        $"has no {missing} and keeps its name"));
                continue;
            }

            var wanted = Path.Combine(root, pattern.Format(EditedOf(file.CopyId), Path.GetExtension(file.Path)));
            var path = wanted;
            for (int number = 2; !taken.Add(path) || (path != file.Path && !own.Contains(path) && PlainFile.Exists(path)); number++)
                path = TrackPath.Numbered(wanted, number);
            lines.Add(
                new RenameLine(
                    file.CopyId, Path.GetRelativePath(root, file.Path), Path.GetRelativePath(root, path), path, path != file.Path,
                    path == wanted ? null : "the name is in use, so it gets a number"));
        }

        return lines;
    }

    private bool IsNew(SheetFile file, NamePiece piece) => FieldText.Join(HeldBy(file.CopyId)[piece.Field]) != piece.Value;

    /// <summary>The path without extension.</summary>
    private static string PathOf(SheetFile file) => file.Path[..^Path.GetExtension(file.Path).Length];

    private static NameExample Drawn(string path, int levels, IReadOnlyList<NamePiece> pieces)
    {
        var parts = path.Split('/');
        var name = string.Join('/', parts[^Math.Min(levels, parts.Length)..]);
        int skipped = path.Length - name.Length;
        return NameDrawing.Draw(name, [.. pieces.Select(piece => piece with { Start = piece.Start - skipped })]);
    }
}
