namespace Wergamon.App.Bench;

/// <summary>Sounds of the Bench on disk: a folder for each comparison, the least recently used dropped first. All of it can be made again.</summary>
public sealed class BenchCache(AppOptions options, TimeProvider time)
{
    private readonly Lock _trimming = new();
    private readonly List<string> _inUse = [];

    /// <summary>The folder of one comparison or series; it need not exist.</summary>
    public string FolderOf(string name) => Path.Combine(options.BenchFolder, name);

    /// <summary>Keeps a folder while a run works in it; it exists from now on.</summary>
    /// <returns>Ends that.</returns>
    public IDisposable Use(string name)
    {
        lock (_trimming)
        {
            Directory.CreateDirectory(FolderOf(name));
            _inUse.Add(name);
        }

        return new Usage(this, name);
    }

    /// <summary>Notes that a folder was looked at.</summary>
    public void Touch(string name)
    {
        if (Directory.Exists(FolderOf(name)))
            Directory.SetLastWriteTimeUtc(FolderOf(name), time.GetUtcNow().UtcDateTime);
    }

    public void Remove(string name)
    {
        if (Directory.Exists(FolderOf(name)))
            Directory.Delete(FolderOf(name), recursive: true);
    }

    /// <summary>Drops folders until all fit in <see cref="AppOptions.BenchCacheBytes"/>; whoever has a file of them open can go on.</summary>
    /// <param name="kept">Stays whatever its size.</param>
    public void Trim(string kept)
    {
        lock (_trimming)
        {
            var folders = new DirectoryInfo(options.BenchFolder).EnumerateDirectories().OrderBy(folder => folder.LastWriteTimeUtc).Select(folder => (Folder: folder, Bytes: BytesIn(folder))).ToList();
            long bytes = folders.Sum(each => each.Bytes);
            foreach (var (folder, its) in folders.Where(each => each.Folder.Name != kept && !_inUse.Contains(each.Folder.Name)))
            {
                if (bytes <= options.BenchCacheBytes)
                    return;
                folder.Delete(recursive: true);
                bytes -= its;
            }
        }
    }

    private void Release(string name)
    {
        lock (_trimming)
            _inUse.Remove(name);
    }

    private static long BytesIn(DirectoryInfo folder) => folder.EnumerateFiles("*", SearchOption.AllDirectories).Sum(file => file.Length);

    private sealed class Usage(BenchCache cache, string name) : IDisposable
    {
        public void Dispose() => cache.Release(name);
    }
}
