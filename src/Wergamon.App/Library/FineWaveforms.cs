using System.Globalization;
using Wergamon.App.Files;
using Wergamon.App.Workers;
using Wergamon.Core.Analysis;
using Wergamon.Core.Jobs;

namespace Wergamon.App.Library;

/// <summary>Waveforms of copies that can be looked at closely, made by a worker when they are first asked for.</summary>
public sealed class FineWaveforms
{
    /// <summary>Files that are kept; each is about a hundredth of its copy.</summary>
    private const int MaxKept = 50;

    private readonly AppOptions _options;
    private readonly WorkerPool _workers;
    private readonly List<(string Key, string Path, Task<bool> Made)> _kept = [];

    public FineWaveforms(AppOptions options, WorkerPool workers)
    {
        (_options, _workers) = (options, workers);
        if (Directory.Exists(options.WaveformFolder))
            Directory.Delete(options.WaveformFolder, recursive: true);
    }

    /// <summary>A stretch of a copy, as <see cref="FineWaveform.Read"/> gives it; null when its audio cannot be read.</summary>
    public async Task<byte[]?> ReadAsync(CopyRow copy, double fromSeconds, double toSeconds, int columns, CancellationToken cancellation)
    {
        var (path, made) = Start(copy);
        if (!await made.WaitAsync(cancellation).ConfigureAwait(false))
            return null;
        await using var input = new FileStream(path, FileMode.Open, FileAccess.Read, FileShare.Read | FileShare.Delete, bufferSize: 0);
        return FineWaveform.Read(input, fromSeconds * copy.Facts.Format.Rate.Hertz, toSeconds * copy.Facts.Format.Rate.Hertz, columns);
    }

    private (string Path, Task<bool> Made) Start(CopyRow copy)
    {
        var key = string.Create(CultureInfo.InvariantCulture, $"{copy.Id} {FileStamp.Of(new FileInfo(copy.Path))}");
        lock (_kept)
        {
            if (_kept.Find(kept => kept.Key == key) is { Path: not null, Made.IsFaulted: false } known && !(known.Made.IsCompletedSuccessfully && !known.Made.Result))
                return (known.Path, known.Made);
            _kept.RemoveAll(kept => kept.Key == key);
            foreach (var old in _kept.Where(kept => kept.Made.IsCompleted).Take(Math.Max(0, _kept.Count + 1 - MaxKept)).ToList())
            {
                File.Delete(old.Path);
                _kept.Remove(old);
            }

            Directory.CreateDirectory(_options.WaveformFolder);
            var path = Path.Combine(_options.WaveformFolder, Guid.NewGuid().ToString("N"));
            var made = MakeAsync(new WaveformJob(copy.Path, path));
            _kept.Add((key, path, made));
            return (path, made);
        }
    }

    private async Task<bool> MakeAsync(WaveformJob job)
    {
        try
        {
            return await _workers.RunAsync(job, WorkerPriority.HeardNow, null, CancellationToken.None).ConfigureAwait(false) is WaveformReply;
        }
        catch (WorkerLostException)
        {
            return false;
        }
    }
}
