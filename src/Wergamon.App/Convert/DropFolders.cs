using Microsoft.Extensions.Hosting;
using Microsoft.Extensions.Logging;
using Wergamon.App.Files;
using Wergamon.App.Library.Scan;
using Wergamon.App.Storage;

namespace Wergamon.App.Convert;

/// <summary>
/// Watches drop folders: a file that has stopped growing goes into a run. A file that fails is left where it is, with a note beside it that
/// says why; a changed file is tried again.
/// </summary>
public sealed class DropFolders(
    DropFolderStore store, FilePlans filePlans, Plans plans, DropOutcomes outcomes, TimeProvider time, ILogger<DropFolders> logger)
    : BackgroundService
{
    private static readonly TimeSpan LookEvery = TimeSpan.FromSeconds(2);

    /// <summary>How long a file has to stay unchanged before it counts as complete.</summary>
    private static readonly TimeSpan Rest = 2 * LookEvery;

    /// <summary>Folders that are known to have no records of files that no longer exist.</summary>
    private readonly HashSet<long> _hasWatched = [];

    protected override Task ExecuteAsync(CancellationToken stoppingToken) =>
        Guard.KeepRunningAsync(logger, time, nameof(DropFolders), RunAsync, stoppingToken);

    private async Task RunAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(LookEvery, time);
        do
        {
            // Trouble with one folder affects neither the others nor later checks.
            await Guard.TryAsync(logger, "Looking at drop folders", async () =>
            {
                foreach (var folder in store.List())
                    await Guard.TryAsync(logger, $"Looking at the drop folder {folder.Path}", () => LookAsync(folder, stoppingToken))
                        .ConfigureAwait(false);
            }).ConfigureAwait(false);
        }
        while (await timer.WaitForNextTickAsync(stoppingToken).ConfigureAwait(false));
    }

    private async Task LookAsync(DropFolder folder, CancellationToken cancellation)
    {
        var known = store.Files(folder.Id);
        outcomes.Settle(folder, known);
        if (!folder.IsPaused && PlainFolder.Exists(folder.Path))
            await TakeAsync(folder, known, cancellation).ConfigureAwait(false);
    }

    /// <summary>Puts complete new files into a run.</summary>
    private async Task TakeAsync(DropFolder folder, Dictionary<string, DropFile> known, CancellationToken cancellation)
    {
        var fresh = PlainFolder.Files(folder.Path, isDeep: true)
            .Where(FileScanner.LooksLikeSound)
            .Select(path => (Path: path, Stamp: FileStamp.Of(path)))
            .Where(file => known.GetValueOrDefault(file.Path) is not { } old || !old.Fits(file.Stamp))
            .ToList();
        long now = time.GetUtcNow().ToUnixTimeMilliseconds();
        var since = fresh.Count == 0 && !_hasWatched.Contains(folder.Id) ? [] : store.Watch(folder.Id, fresh, now);
        _hasWatched.Add(folder.Id);
        var complete = fresh.Where(file => file.Stamp.Bytes > 0 && now - since[file.Path] >= (long)Rest.TotalMilliseconds).ToList();
        if (complete.Count == 0)
            return;
        var result = await filePlans.CreateAsync(folder.Path, [.. complete.Select(file => file.Path)], folder.TargetKey, cancellation)
            .ConfigureAwait(false);
        var (run, mayGo) = result.PlanId is { } plan ? Start(plan, folder) : (null, []);
        var reasons = result.Unreadable.ToDictionary(file => file.Path, file => file.Reason);
        foreach (var (path, _) in complete)
        {
            if (reasons.TryGetValue(path, out var reason) || run is null)
                outcomes.Note(path, reason ?? $"There is not enough free space in {folder.OutputFolder}.");
        }

        store.Set(folder.Id, complete.Select(file => new DropFile
        {
            Path = file.Path,
            FileBytes = file.Stamp.Bytes,
            ModifiedAt = file.Stamp.ModifiedAt,
            RunId = run,
            State = run is null || reasons.ContainsKey(file.Path) ? DropFile.Failed : DropFile.Running,
            MayGo = mayGo.Contains(file.Path),
        }));
        if (run is null)
            return;
        logger.LogInformation(
            "Drop folder {FolderId}: {Count} files go into run {RunId}", folder.Id, complete.Count - result.Unreadable.Count, run);
    }

    /// <summary>Starts a plan; also returns the originals that may be removed, because nothing is lost or the loss was agreed to.</summary>
    private (long? Run, HashSet<string> MayGo) Start(long plan, DropFolder folder)
    {
        plans.SetOutputFolder(plan, folder.OutputFolder);
        var lines = plans.View(plan)?.Running ?? [];
        var mayGo = lines.Where(
                line => folder.RemovesSources
                    && (PlanView.KeepsAll(line.Planned!) || folder.AgreedLoss == AgreedLoss.Of(line.Planned!.Target)))
            .Select(line => line.FilePath)
            .ToHashSet();
        long? run = plans.Start(plan);
        if (run is null)
            plans.Delete(plan);
        return (run, mayGo);
    }
}
