using System.Globalization;
using Wergamon.App.Files;
using Wergamon.App.Tracks;
using Wergamon.App.Workers;
using Wergamon.Core.Audio;
using Wergamon.Core.Jobs;

namespace Wergamon.App.Library.Listening;

/// <summary>
/// Files that workers make of copies when first requested, in a folder that is emptied at start: made once, shared by all requests, and
/// dropped in the order in which they were made.
/// </summary>
internal sealed class DerivedFileCache
{
    private readonly WorkerPool _workers;
    private readonly string _folder, _extension;
    private readonly int _maxKept;
    private readonly long _maxBytes;
    private readonly List<(string Key, string Path, Task Made)> _kept = [];

    /// <param name="maxKept">Files at a time.</param>
    /// <param name="maxBytes">Bytes of all of them; the newest is kept whatever its size.</param>
    public DerivedFileCache(WorkerPool workers, string folder, string extension, int maxKept, long maxBytes)
    {
        (_workers, _folder, _extension, _maxKept, _maxBytes) = (workers, folder, extension, maxKept, maxBytes);
        if (PlainFolder.Exists(folder))
            PlainFolder.RemoveTree(folder);
    }

    /// <summary>The file of a copy as it is now; a failed one is tried again.</summary>
    /// <param name="jobFor">Gets a path at which nothing is.</param>
    /// <returns>The path, and when the file is whole: fails with <see cref="UnreadableAudioException"/> where the copy cannot be
    /// read.</returns>
    public (string Path, Task Made) Get(CopyRow copy, Func<string, WorkerJob> jobFor)
    {
        var key = string.Create(CultureInfo.InvariantCulture, $"{copy.Id} {FileStamp.Of(copy.Path)}");
        lock (_kept)
        {
            int known = _kept.FindIndex(kept => kept.Key == key);
            if (known >= 0 && !_kept[known].Made.IsFaulted)
                return (_kept[known].Path, _kept[known].Made);
            if (known >= 0)
                Drop(_kept[known]);
            PlainFolder.Create(_folder);
            var path = Path.Combine(_folder, Guid.NewGuid().ToString("N") + _extension);
            var made = MakeAsync(jobFor(path));
            _kept.Add((key, path, made));
            DropOld();
            return (path, made);
        }
    }

    private async Task MakeAsync(WorkerJob job)
    {
        try
        {
            if ((
                await _workers.RunAsync(job, WorkerPriority.Interactive, null, CancellationToken.None)
                    .ConfigureAwait(false)).Failure is { } failure)
                throw new UnreadableAudioException(failure);
        }
        catch (WorkerLostException lost)
        {
            throw new UnreadableAudioException(lost.Message, lost);
        }
    }

    private void DropOld()
    {
        long bytes = _kept.Sum(BytesOf);
        foreach (var old in _kept.SkipLast(1).Where(kept => kept.Made.IsCompleted).ToList())
        {
            if (_kept.Count <= _maxKept && bytes <= _maxBytes)
                return;
            bytes -= BytesOf(old);
            Drop(old);
        }
    }

    /// <summary>It can still be read where it is open.</summary>
    private void Drop((string Key, string Path, Task Made) kept)
    {
        PlainFile.Delete(kept.Path);
        _kept.Remove(kept);
    }

    private static long BytesOf((string Key, string Path, Task Made) kept) => PlainFile.Exists(kept.Path) ? PlainFile.Length(kept.Path) : 0;
}
