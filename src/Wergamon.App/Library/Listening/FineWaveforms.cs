using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.App.Workers;
using Wergamon.Core.Analysis;
using Wergamon.Core.Audio;
using Wergamon.Core.Jobs;

namespace Wergamon.App.Library.Listening;

/// <summary>Waveforms of copies for a close view, made by a worker when they are first requested.</summary>
public sealed class FineWaveforms(AppOptions options, WorkerPool workers)
{
    /// <summary>Files that are kept; each is about a hundredth of its copy.</summary>
    private const int MaxKept = 50;

    private const long MaxKeptBytes = 500_000_000;

    private readonly DerivedFileCache _kept = new(workers, options.Folders.Waveforms, "", MaxKept, MaxKeptBytes);

    /// <summary>A stretch of a copy, as <see cref="FineWaveform.Read"/> gives it.</summary>
    /// <exception cref="UnreadableAudioException">Its audio cannot be read.</exception>
    public async Task<byte[]> ReadAsync(CopyRow copy, double fromSeconds, double toSeconds, int columns, CancellationToken cancellation)
    {
        var (path, made) = _kept.Get(copy, output => new WaveformJob(copy.Path, output));
        await made.WaitAsync(cancellation).ConfigureAwait(false);
        await using var input = PlainFile.Open(path, FileMode.Open, FileAccess.Read, bufferSize: 0);
        return FineWaveform.Read(input, fromSeconds * copy.Facts.Format.Rate.Hertz, toSeconds * copy.Facts.Format.Rate.Hertz, columns);
    }
}
