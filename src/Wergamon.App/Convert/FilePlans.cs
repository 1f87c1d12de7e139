using Wergamon.App.Library.Scan;
using Wergamon.Core.Jobs;
using Wergamon.Core.Naming;
using Wergamon.Core.Tags;

namespace Wergamon.App.Convert;

/// <summary>Plans the conversion of files that are not in the library.</summary>
public sealed class FilePlans(Plans plans, FileScanner scanner)
{
    /// <summary>A plan, and the files that cannot be read with the reason.</summary>
    /// <param name="PlanId">Null when no file can be converted.</param>
    public sealed record Result(long? PlanId, IReadOnlyList<(string Path, string Reason)> Unreadable);

    /// <summary>Makes a plan of all music files in a folder that the library does not list; nor will it list their copies.</summary>
    public Task<Result> CreateAsync(string folder, string targetKey, CancellationToken cancellation)
    {
        var found = PlainFolder.Exists(folder) ? PlainFolder.Files(folder, isDeep: true).Where(FileScanner.LooksLikeSound) : [];
        return CreateAsync(folder, found, "Uploaded files", isExcluded: true, targetKey, cancellation);
    }

    /// <summary>Makes a plan of some files of a folder; the library lists their copies if the target says so.</summary>
    public Task<Result> CreateAsync(string folder, IReadOnlyList<string> paths, string targetKey, CancellationToken cancellation) =>
        CreateAsync(folder, paths, Path.GetFileName(folder), isExcluded: false, targetKey, cancellation);

    private async Task<Result> CreateAsync(
        string folder, IEnumerable<string> found, string usualTitle, bool isExcluded, string targetKey,
        CancellationToken cancellation)
    {
        var (files, unreadable) = (new List<PlanFile>(), new List<(string Path, string Reason)>());
        // In natural order.
        foreach (var path in found.OrderBy(FoldedText.SortKey, StringComparer.Ordinal))
        {
            var scanned = await scanner.ScanAsync(path, cancellation).ConfigureAwait(false);
            if (scanned.Facts is null)
                unreadable.Add((path, scanned.Unreadable ?? "It holds no sound."));
            else
                files.Add(FileOf(scanned, folder));
        }

        return new Result(
            files.Count == 0 ? null : plans.Create(TitleOf(files) ?? usualTitle, targetKey, files, isExcluded), unreadable);
    }

    private static string? TitleOf(List<PlanFile> files)
    {
        var albums = files.Select(file => file.First(FieldNames.Album)).Distinct().ToList();
        return albums is [{ } one]
            ? one
            : files is [var only]
            ? only.First(FieldNames.Title) ?? Path.GetFileNameWithoutExtension(only.Path)
            : null;
    }

    private static PlanFile FileOf(ScannedFile file, string root)
    {
        var contents = TagContents.Of(file.Tags);
        return new PlanFile(
            file.Path, root, file.Stamp.Bytes, file.Stamp.ModifiedAt, file.Facts!,
            [.. file.Tags.Fields.Select(field => new JobField(field.Name, field.Values))], file.FieldsFromName)
        {
            Pictures = contents.Pictures,
            Opaque = contents.Opaque,
            FolderCoverPath = file.FolderCoverPath,
        };
    }
}
