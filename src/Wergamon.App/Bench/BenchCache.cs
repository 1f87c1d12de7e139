using Wergamon.App.Storage;

namespace Wergamon.App.Bench;

/// <summary>
/// Sounds of the Bench on disk: a folder for each comparison; the least recently used are removed first. All can be made again.
/// </summary>
public sealed class BenchCache(AppOptions options, TimeProvider time)
{
    private readonly Lock _trimming = new();
    private readonly List<string> _inUse = [];

    /// <summary>The folder of one comparison or series; it need not exist.</summary>
    public string FolderOf(string name) => Path.Combine(options.Folders.Bench, name);

    /// <summary>Creates a folder and keeps it while a run works in it.</summary>
    /// <returns>Ends that.</returns>
    public IDisposable Use(string name)
    {
        lock (_trimming)
        {
            PlainFolder.Create(FolderOf(name));
            _inUse.Add(name);
        }

        return new Usage(this, name);
    }

    /// <summary>Notes that a folder was used.</summary>
    public void Touch(string name)
    {
        if (PlainFolder.Exists(FolderOf(name)))
            PlainFolder.SetModified(FolderOf(name), time.GetUtcNow().UtcDateTime);
    }

    public void Remove(string name)
    {
        if (PlainFolder.Exists(FolderOf(name)))
            PlainFolder.RemoveTree(FolderOf(name));
    }

    /// <summary>
    /// Removes folders until all fit in <see cref="AppOptions.BenchCacheBytes"/>; files that are open can still be read.
    /// </summary>
    /// <param name="kept">Stays whatever its size.</param>
    public void Trim(string kept)
    {
        lock (_trimming)
        {
            var folders = PlainFolder.Folders(options.Folders.Bench)
                .OrderBy(folder => PlainFile.Look(folder)?.ModifiedUtc)
                .Select(folder => (Path: folder, Name: Path.GetFileName(folder), Bytes: BytesIn(folder)))
                .ToList();
            long bytes = folders.Sum(each => each.Bytes);
            foreach (var (path, _, its) in folders.Where(each => each.Name != kept && !_inUse.Contains(each.Name)))
            {
                if (bytes <= options.BenchCacheBytes)
                    return;
                PlainFolder.RemoveTree(path);
                bytes -= its;
            }
        }
    }

    private void Release(string name)
    {
        lock (_trimming)
            _inUse.Remove(name);
    }

    private static long BytesIn(string folder) => PlainFolder.Files(folder, isDeep: true, withHidden: true).Sum(PlainFile.Length);

    private sealed class Usage(BenchCache cache, string name) : IDisposable
    {
        public void Dispose() => cache.Release(name);
    }
}
