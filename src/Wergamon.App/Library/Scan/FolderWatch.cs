using Microsoft.Extensions.Logging;
using Wergamon.App.Storage;

namespace Wergamon.App.Library.Scan;

/// <summary>Watches a folder tree and reports a change once it has settled.</summary>
internal sealed class FolderWatch : IDisposable
{
    /// <summary>Copying an album makes many changes; the scan waits until there was none for this long.</summary>
    private static readonly TimeSpan Rest = TimeSpan.FromSeconds(1);

    /// <summary>While thousands of files arrive, the first ones are shown after at most this long.</summary>
    private static readonly TimeSpan LongestWait = TimeSpan.FromSeconds(10);

    private readonly FileSystemWatcher _watcher;
    private readonly TimeProvider _time;
    private readonly ILogger _logger;
    private readonly ITimer _timer;
    private long? _waitingSince;

    public FolderWatch(string path, Action changed, TimeProvider time, ILogger logger)
    {
        (_time, _logger) = (time, logger);
        _timer = time.CreateTimer(_ => Tell(changed), null, Timeout.InfiniteTimeSpan, Timeout.InfiniteTimeSpan);
        _watcher = new FileSystemWatcher(path)
        {
            IncludeSubdirectories = true,
            NotifyFilter = NotifyFilters.FileName | NotifyFilters.DirectoryName | NotifyFilters.LastWrite | NotifyFilters.Size,
        };
        _watcher.Created += OnChange;
        _watcher.Changed += OnChange;
        _watcher.Deleted += OnChange;
        _watcher.Renamed += OnChange;
        // Changes came too fast to be reported one by one: a scan finds them anyway.
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
        // Unfinished files have hidden names, or are in hidden folders.
        if (change.Name?.Split('/').Any(part => part.StartsWith('.')) != true)
            WaitForRest();
    }

    private void WaitForRest()
    {
        long now = _time.GetTimestamp();
        lock (_timer)
        {
            _waitingSince ??= now;
            var left = LongestWait - _time.GetElapsedTime(_waitingSince.Value, now);
            _timer.Change(left < Rest ? TimeSpan.Zero : Rest, Timeout.InfiniteTimeSpan);
        }
    }

    private void Tell(Action changed)
    {
        lock (_timer)
            _waitingSince = null;
        // An exception on a timer would end the server.
        Guard.Try(_logger, "Telling of a change in a folder", changed);
    }
}
