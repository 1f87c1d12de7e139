using Microsoft.Extensions.Logging;

namespace Wergamon.App.Library;

/// <summary>Follows a folder and everything below it, and says once that something has changed when it has come to rest.</summary>
internal sealed class FolderWatch : IDisposable
{
    /// <summary>Copying an album in makes many changes; the scan waits until none has come for this long.</summary>
    private static readonly TimeSpan Rest = TimeSpan.FromSeconds(1);

    private readonly FileSystemWatcher _watcher;
    private readonly ITimer _timer;

    public FolderWatch(string path, Action changed, TimeProvider time, ILogger logger)
    {
        _timer = time.CreateTimer(_ => changed(), null, Timeout.InfiniteTimeSpan, Timeout.InfiniteTimeSpan);
        _watcher = new FileSystemWatcher(path)
        {
            IncludeSubdirectories = true,
            NotifyFilter = NotifyFilters.FileName | NotifyFilters.DirectoryName | NotifyFilters.LastWrite | NotifyFilters.Size,
        };
        _watcher.Created += OnChange;
        _watcher.Changed += OnChange;
        _watcher.Deleted += OnChange;
        _watcher.Renamed += OnChange;
        // Changes that came too fast to be told one by one: a scan finds them all the same.
        _watcher.Error += (_, failure) =>
        {
            logger.LogInformation("Watching {Path}: {Reason}", path, failure.GetException().Message);
            WaitForRest();
        };
        _watcher.EnableRaisingEvents = true;
    }

    public void Dispose()
    {
        _watcher.Dispose();
        _timer.Dispose();
    }

    private void OnChange(object sender, FileSystemEventArgs change)
    {
        // Files under way have hidden names.
        if (Path.GetFileName(change.Name)?.StartsWith('.') != true)
            WaitForRest();
    }

    private void WaitForRest() => _timer.Change(Rest, Timeout.InfiniteTimeSpan);
}
