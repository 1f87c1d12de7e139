using System.Globalization;

namespace Wergamon.App.Files;

/// <summary>Where files go that were replaced: kept for thirty days, then removed.</summary>
public sealed class Trash(AppOptions options, TimeProvider time)
{
    private static readonly TimeSpan KeptFor = TimeSpan.FromDays(30);

    /// <summary>Moves a file out of the way and returns where it lies now.</summary>
    public string Take(string path)
    {
        var folder = Path.Combine(options.TrashFolder, time.GetUtcNow().ToString("yyyyMMdd-HHmmss-fff", CultureInfo.InvariantCulture) + "-" + Guid.NewGuid().ToString("N")[..6]);
        Directory.CreateDirectory(folder);
        var place = Path.Combine(folder, Path.GetFileName(path));
        File.Move(path, place);
        return place;
    }

    public void EmptyByAge()
    {
        if (!Directory.Exists(options.TrashFolder))
            return;
        var oldest = time.GetUtcNow() - KeptFor;
        foreach (var folder in new DirectoryInfo(options.TrashFolder).EnumerateDirectories().Where(folder => folder.LastWriteTimeUtc < oldest))
            folder.Delete(recursive: true);
    }
}
