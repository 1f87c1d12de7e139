using System.Text;
using Microsoft.Extensions.Hosting;
using Microsoft.Extensions.Logging;
using Wergamon.App.Copies;
using Wergamon.App.Files;
using Wergamon.App.Library.Removing;
using Wergamon.App.Library.Scan;
using Wergamon.App.Runs;
using Wergamon.App.Storage;

namespace Wergamon.App.Convert;

/// <summary>
/// Watches drop folders: a file that has stopped growing goes into a run. What fails stays where it is, with a note beside it that
/// says why; a changed file is tried again.
/// </summary>
public sealed class DropFolders(
    DropFolderStore store, FilePlans filePlans, Plans plans, RunStore runs, Placement placement, Trash trash, Signals signals,
    TimeProvider time, ILogger<DropFolders> logger)
    : BackgroundService
{
    private const string NoteEnding = ".not-converted.txt";

    private static readonly TimeSpan LookEvery = TimeSpan.FromSeconds(2);

    /// <summary>How long a file has to be the same before it counts as complete.</summary>
    private static readonly TimeSpan Rest = 2 * LookEvery;

    /// <summary>Folders of which it is known that nothing is noted of files that have gone.</summary>
    private readonly HashSet<long> _hasWatched = [];

    protected override Task ExecuteAsync(CancellationToken stoppingToken) =>
        Guard.KeepRunningAsync(logger, time, nameof(DropFolders), RunAsync, stoppingToken);

    private async Task RunAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(LookEvery, time);
        do
        {
            // Trouble with one folder keeps neither the others nor later looks from being taken.
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
        Settle(folder, known);
        if (!folder.IsPaused && PlainFolder.Exists(folder.Path))
            await TakeAsync(folder, known, cancellation).ConfigureAwait(false);
    }

    /// <summary>Puts complete new files into a run.</summary>
    private async Task TakeAsync(DropFolder folder, Dictionary<string, DropFile> known, CancellationToken cancellation)
    {
        var fresh = PlainFolder.Files(folder.Path, isDeep: true)
            .Where(FileScanner.LooksLikeSound)
            .Select(path => (Path: path, Stamp: FileStamp.Of(path)))
            .Where(file => !IsKnown(file.Stamp, known.GetValueOrDefault(file.Path)))
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
                Note(path, reason ?? $"There is not enough free space in {folder.OutputFolder}.");
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

    /// <summary>Starts a plan; tells the originals of which nothing is lost that was not agreed to.</summary>
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

    private static bool IsKnown(FileStamp stamp, DropFile? known) =>
        known is not null && (known.FileBytes, known.ModifiedAt) == (stamp.Bytes, stamp.ModifiedAt);

    /// <summary>Takes the outcome of runs that have ended to the files.</summary>
    private void Settle(DropFolder folder, Dictionary<string, DropFile> known)
    {
        foreach (var group in known.Values.Where(file => file is { State: DropFile.Running, RunId: not null })
            .GroupBy(file => file.RunId!.Value))
        {
            if (runs.Get(group.Key) is { } run && run.State != RunState.Done)
                continue;
            var items = runs.Items(group.Key).Where(ConvertHandler.ItemKind.Is).ToDictionary(item => CopySpec.Of(item).Job!.SourcePath);
            store.Set(
                folder.Id,
                group.Select(file => file with { State = SettleFile(folder, file, items.GetValueOrDefault(file.Path)) }).ToList());
            signals.Send(new Signal(Signal.Runs));
        }
    }

    /// <summary>A folder that cannot be written to does without notes; the page and the run tell the same.</summary>
    private void Note(string path, string reason)
    {
        try
        {
            placement.WriteCompanion(path + NoteEnding, Encoding.UTF8.GetBytes(reason + Environment.NewLine), isNumbered: false);
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            logger.LogWarning("No note could be written beside a file: {Reason}", failure.Message);
        }
    }

    private string SettleFile(DropFolder folder, DropFile file, RunItemRow? item)
    {
        if (item is not { State: ItemState.Done or ItemState.Skipped })
        {
            Note(file.Path, item?.Failure ?? "Its run is gone.");
            return DropFile.Failed;
        }

        try
        {
            placement.RemoveCompanion(file.Path + NoteEnding);
            if (folder.RemovesSources && file.MayGo && item.State == ItemState.Done && IsKnown(FileStamp.Of(file.Path), file))
                trash.TakeFile(file.Path, "converted from a drop folder, and the copy proved");
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            logger.LogWarning("An original of a drop folder stays where it is: {Reason}", failure.Message);
        }

        return DropFile.Done;
    }
}
