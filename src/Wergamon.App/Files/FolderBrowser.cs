using Wergamon.App.Storage;

namespace Wergamon.App.Files;

/// <summary>One folder or file to choose.</summary>
/// <param name="Refusal">Why it cannot be opened, for the person; null when it can.</param>
public sealed record FolderEntry(string Name, string Path, string? Refusal);

/// <summary>The folders in one folder.</summary>
/// <param name="Path">Null for the list of allowed places.</param>
/// <param name="Parts">The folders from the allowed place down to this one.</param>
/// <param name="Refusal">Why the requested folder cannot be shown; the allowed ones are listed instead.</param>
/// <param name="IsCut">True when there are more folders than are listed.</param>
public sealed record FolderListing(
    string? Path, IReadOnlyList<FolderEntry> Parts, IReadOnlyList<FolderEntry> Folders, string? Refusal, bool IsCut)
{
    /// <summary>Files in the folder, if requested.</summary>
    public IReadOnlyList<FolderEntry> Files { get; init; } = [];
}

/// <summary>Lists folders of this machine, and files if requested, so that a path can be chosen instead of typed.</summary>
public sealed class FolderBrowser(AppOptions options, AllowedPaths allowed)
{
    private const int MaxListed = 1000;

    /// <summary>
    /// The folders at a place, or at the nearest folder above it that exists: an output folder need not exist yet. The allowed
    /// places when none is given or it cannot be shown.
    /// </summary>
    /// <param name="isListed">Which files are listed, too; null for none. With it, a place may be a file: its folder is shown.</param>
    public FolderListing List(string? place, Func<string, bool>? isListed = null)
    {
        var roots = options.AllowedBases.Select(root => AllowedPaths.Resolve(root) ?? root).Distinct().ToList();
        if (string.IsNullOrWhiteSpace(place))
            return ListRoots(roots, null);
        var nearest = NearestThatExists(place);
        var check = allowed.CheckMusicFolder(isListed is not null && PlainFile.Exists(nearest) ? Path.GetDirectoryName(nearest)! : nearest);
        if (check.Path is not { } path)
            return ListRoots(roots, check.Refusal);
        try
        {
            return ListAt(path, roots, isListed);
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            // Gone or closed since it was checked.
            return ListRoots(roots, failure.Message);
        }
    }

    private static string NearestThatExists(string place)
    {
        var nearest = AllowedPaths.Resolve(place);
        while (nearest is not null && !Path.Exists(nearest))
            nearest = Path.GetDirectoryName(nearest);
        return nearest ?? place;
    }

    private FolderListing ListAt(string path, List<string> roots, Func<string, bool>? isListed)
    {
        var names = Directory.EnumerateDirectories(path)
            .Where(folder => !Path.GetFileName(folder).StartsWith('.'))
            .Take(MaxListed + 1)
            .ToList();
        var folders = names.Take(MaxListed)
            .OrderBy(folder => folder, StringComparer.OrdinalIgnoreCase)
            .Select(folder => EntryFor(Path.GetFileName(folder), folder))
            .ToList();
        var files = isListed is null
            ? []
            : Directory.EnumerateFiles(path)
                .Where(file => !Path.GetFileName(file).StartsWith('.') && isListed(file))
                .Take(MaxListed + 1)
                .ToList();
        // The application's own folder may be shown, too, though nothing leads to it.
        return new FolderListing(
            path, PartsOf(path, [.. roots, AllowedPaths.Resolve(options.DataFolder) ?? options.DataFolder]), folders, null,
            names.Count > MaxListed || files.Count > MaxListed)
        {
            Files = [
                .. files.Take(MaxListed)
                    .OrderBy(file => file, StringComparer.OrdinalIgnoreCase)
                    .Select(file => new FolderEntry(Path.GetFileName(file), file, null))
            ],
        };
    }

    private FolderListing ListRoots(List<string> roots, string? refusal) =>
        new(null, [], [.. roots.Select(root => EntryFor(root, root))], refusal, IsCut: false);

    private FolderEntry EntryFor(string name, string path) => new(name, path, allowed.CheckMusicFolder(path).Refusal);

    /// <summary>One allowed place may contain another: the outermost is the start.</summary>
    private static List<FolderEntry> PartsOf(string path, List<string> roots)
    {
        var parts = new List<FolderEntry>();
        for (string? at = path; at is not null; at = Path.GetDirectoryName(at))
        {
            bool isRoot = roots.Contains(at);
            parts.Insert(0, new FolderEntry(isRoot ? at : Path.GetFileName(at), at, null));
            if (isRoot && !roots.Any(root => at.StartsWith(root.TrimEnd('/') + "/", StringComparison.Ordinal)))
                break;
        }

        return parts;
    }
}
