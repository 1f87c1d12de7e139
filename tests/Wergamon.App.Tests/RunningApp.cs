using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Hosting;
using Microsoft.Extensions.Logging;
using Wergamon.App.Convert;
using Wergamon.App.Library.Scan;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.App.Workers;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Iff;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Naming;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Id3v2;
using Wergamon.Testing;

namespace Wergamon.App.Tests;

/// <summary>The application without its pages, on a folder of its own, with real workers and real files.</summary>
public sealed class RunningApp : IAsyncDisposable
{
    private static readonly TimeSpan LongestWait = TimeSpan.FromMinutes(4);

    /// <summary>
    /// Workers go from test to test: each compiles its code first, which costs more than most tests. They end with the process.
    /// </summary>
    private static readonly IdleWorkers SharedWorkers = new();

    private readonly TimeProvider _time;

    private readonly IdleWorkers _idleWorkers;

    private ServiceProvider? _services;

    public RunningApp(Func<AppOptions, AppOptions>? change = null, TimeProvider? time = null)
    {
        _time = time ?? TimeProvider.System;
        Directory.CreateDirectory(Music);
        var options = new AppOptions
        {
            DataFolder = Folder["data"],
            AllowedBases = [Folder.Path],
            WorkerPath = Repository.Built("Wergamon.Worker"),
            WorkerCount = 2,
            RackFolder = Folder["rack"],
            DriveSpeedup = 1000,
        };
        Options = change?.Invoke(options) ?? options;
        // A worker keeps the limits that it was started with.
        _idleWorkers = (Options.WorkerPath, Options.WorkerSilence, Options.WorkerMemoryBytes)
            == (options.WorkerPath, options.WorkerSilence, options.WorkerMemoryBytes) ? SharedWorkers : new IdleWorkers();
    }

    public TemporaryFolder Folder { get; } = new();

    public AppOptions Options { get; }

    public string Music => Folder["music"];

    public string Output => Folder["output"];

    public T Get<T>() where T : notnull => _services!.GetRequiredService<T>();

    /// <param name="before">Done with the database before anything starts.</param>
    public async Task StartAsync(Action<Database>? before = null)
    {
        _services = new ServiceCollection().AddLogging(logging => logging.ClearProviders())
            .AddWergamon(Options)
            .AddSingleton(_time)
            .AddSingleton(_idleWorkers)
            .BuildServiceProvider();
        before?.Invoke(Get<Database>());
        foreach (var service in _services.GetServices<IHostedService>())
            await service.StartAsync(CancellationToken.None);
    }

    public async Task StopAsync()
    {
        foreach (var service in _services!.GetServices<IHostedService>())
            await service.StopAsync(CancellationToken.None);
        await _services!.DisposeAsync();
        _services = null;
    }

    /// <summary>A tagged WAV file in the music folder.</summary>
    public string AddTrack(int number, double seconds, string album = "Night Shift")
    {
        var tags = new TagSet();
        tags.Set(FieldNames.Title, $"Track {number}");
        tags.Set(FieldNames.Artist, "The Quarry Lamps");
        tags.Set(FieldNames.AlbumArtist, "The Quarry Lamps");
        tags.Set(FieldNames.Album, album);
        tags.Set(FieldNames.Track, number.ToString(System.Globalization.CultureInfo.InvariantCulture));
        var path = Path.Combine(Music, SafeFileName.From($"{album} {number}", ".wav"));
        var format = new PcmFormat(SampleRate.AudioDisc, 2, 16);
        using var writer = new WavWriter(File.Create(path), format, tail: [new TailChunk("id3 ", Id3v2Writer.Write(tags))]);
        TestSound.Music(format, (long)(seconds * 44_100)).CopyTo(writer);
        return path;
    }

    /// <summary>Scans the music folder and waits until it is in the library.</summary>
    public async Task ScanAsync()
    {
        var folders = Get<MusicFolders>();
        if (folders.List().Count == 0)
            Assert.Null(folders.Add(Music));
        else
            folders.Rescan(folders.List()[0].Id);
        await UntilAsync(() => folders.List().All(folder => folder is { IsScanning: false, ScannedAt: not null }));
    }

    /// <summary>Plans all tracks of the only album for a target.</summary>
    public long Plan(string target)
    {
        var plans = Get<Plans>();
        var tracks = Get<LibraryQueries>().TracksOfAlbum(Assert.Single(Get<LibraryQueries>().Albums()).Id);
        long id = plans.Create("Night Shift", target, [.. tracks.Select(track => track.Id)]);
        Assert.Null(plans.SetOutputFolder(id, Output));
        return id;
    }

    /// <summary>Starts a plan; whatever it loses of originals is agreed to.</summary>
    public long Run(long plan) => Get<Plans>().Start(plan, Get<Plans>().View(plan)!.Loss)!.Value;

    /// <summary>Starts a plan, and something happens before the first item has its turn.</summary>
    public async Task<long> RunAfterAsync(long plan, Action happens)
    {
        await Get<RunScheduler>().StopAsync(CancellationToken.None);
        long run = Run(plan);
        happens();
        await Get<RunScheduler>().StartAsync(CancellationToken.None);
        return run;
    }

    public async Task<IReadOnlyList<RunItemRow>> EndAsync(long run)
    {
        await UntilAsync(() => Get<RunStore>().Get(run)!.State == RunState.Done);
        var items = Get<RunStore>().Items(run);
        if (items.FirstOrDefault(item => !item.IsResult && item.State == ItemState.Failed) is { } step)
            throw new InvalidOperationException($"{step.Title} failed: {step.Failure}");
        return [.. items.Where(item => item.IsResult)];
    }

    /// <summary>Waits for a condition, with a generous limit.</summary>
    public static async Task UntilAsync(Func<bool> condition)
    {
        using var limit = new CancellationTokenSource(LongestWait);
        while (!condition())
            await Task.Delay(20, limit.Token);
    }

    public IEnumerable<string> OutputFiles() => Directory.Exists(Output)
        ? Directory.EnumerateFiles(Output, "*", new EnumerationOptions { RecurseSubdirectories = true, AttributesToSkip = 0 })
            .Select(path => Path.GetRelativePath(Output, path))
            .Order(StringComparer.Ordinal)
        : [];

    public async ValueTask DisposeAsync()
    {
        if (_services is not null)
            await StopAsync();
        if (_idleWorkers != SharedWorkers)
            _idleWorkers.Dispose();
        Folder.Dispose();
    }
}
