using Microsoft.Extensions.Logging.Abstractions;
using Wergamon.App.Storage;
using Wergamon.App.Workers;
using Wergamon.Codecs;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;
using Wergamon.Testing;

namespace Wergamon.Worker.Tests;

/// <summary>One real worker for the tests of a class, and plans for it as the server makes them.</summary>
public sealed class WorkerFixture : IDisposable
{
    private readonly IdleWorkers _idle = new();
    private readonly WorkerPool _pool;

    public WorkerFixture()
    {
        LibAvPresence.Silence();
        Options = new AppOptions
        {
            DataFolder = Folder.Path,
            AllowedBases = [Folder.Path],
            WorkerPath = Repository.Built("Wergamon.Worker"),
            WorkerCount = 1
        };
        // An emulated machine takes longer.
        if (int.TryParse(Environment.GetEnvironmentVariable("WERGAMON_WORKER_SILENCE"), out int seconds))
            Options = Options with { WorkerSilence = TimeSpan.FromSeconds(seconds) };
        _pool = new WorkerPool(Options, _idle, NullLogger<WorkerPool>.Instance);
    }

    public TemporaryFolder Folder { get; } = new();

    public AppOptions Options { get; }

    /// <summary>Converts by the planner's route; the facts come from the source itself.</summary>
    public async Task<WorkerReply> ConvertAsync(
        string source, string output, Target target, TagSet? extra = null, string? cover = null, KnownSound? known = null)
    {
        var facts = await FactsAsync(source);
        var fidelity = facts.IsLossless ? Fidelity.Exact : Fidelity.Lossy;
        var steps = RoutePlanner.Plan(facts, fidelity, target, known).StepsBeforeEncoding();
        var fields = extra?.Fields.Select(field => new JobField(field.Name, field.Values)) ?? [];
        return await _pool.RunAsync(
            new ConvertJob(
                source, facts.Format, steps, target.Encoder, output, [.. fields],
                cover is null ? [] : [new JobPicture(PictureKind.Front, cover)])
            { Artwork = target.Artwork, Level = target.Level, TagOptions = new TagWriteOptions(target.Id3v2Version) },
            WorkerPriority.Requested, null, CancellationToken.None);
    }

    /// <summary>Converts and requires a proof.</summary>
    public async Task<Proof> ProveAsync(
        string source, string output, Target target, TagSet? extra = null, string? cover = null, KnownSound? known = null)
    {
        var reply = await ConvertAsync(source, output, target, extra, cover, known);
        return (reply as ConvertReply)?.Proof ?? throw new InvalidOperationException(reply.Failure);
    }

    public async Task<AudioFacts> FactsAsync(string path)
    {
        using (var stream = File.OpenRead(path))
        {
            if (FileReading.Read(stream).Facts is { } facts)
                return facts;
        }

        var reply = await _pool.RunAsync(new ProbeJob(path), WorkerPriority.Requested, null, CancellationToken.None);
        return (reply as ProbeReply)?.Facts ?? throw new UnreadableAudioException(reply.Failure!);
    }

    public Task<WorkerReply> AskAsync(WorkerJob job, CancellationToken cancellation = default) =>
        _pool.RunAsync(job, WorkerPriority.Requested, null, cancellation);

    /// <summary>A WAV file of seeded noise, or of something like music.</summary>
    public string MakeWav(string name, PcmFormat format, long frames, bool music = false)
    {
        var path = Folder[name];
        using var writer = new WavWriter(File.Create(path), format);
        (music ? TestSound.Music(format, frames) : TestSound.Noise(format, frames)).CopyTo(writer);
        return path;
    }

    public void Dispose()
    {
        _pool.Dispose();
        _idle.Dispose();
        Folder.Dispose();
    }
}
