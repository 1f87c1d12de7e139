namespace Wergamon.Web.Display;

/// <summary>A folder on the way to a file.</summary>
/// <param name="Path">Null for what was left out.</param>
public sealed record PathPart(string Name, string? Path);

/// <summary>The path of a file, shortened in the middle: its start, and the folders next to the file.</summary>
public sealed class ShortPath
{
    private const int FirstShown = 1, LastShown = 2;

    /// <param name="path">Absolute.</param>
    public ShortPath(string path)
    {
        FileName = Path.GetFileName(path);
        var all = new List<PathPart>();
        for (var folder = Path.GetDirectoryName(path); folder is { Length: > 1 }; folder = Path.GetDirectoryName(folder))
            all.Insert(0, new PathPart(Path.GetFileName(folder), folder));
        // A gap for a single folder saves nothing.
        Folders = all.Count <= FirstShown + LastShown + 1
            ? all
            : [.. all.Take(FirstShown), new PathPart("…", null), .. all.TakeLast(LastShown)];
    }

    public IReadOnlyList<PathPart> Folders { get; }

    public string FileName { get; }
}
