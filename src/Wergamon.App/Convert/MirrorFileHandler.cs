using Wergamon.App.Copies;
using Wergamon.App.Files;
using Wergamon.App.Library.Removing;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.App.Workers;
using Wergamon.Core.Jobs;

namespace Wergamon.App.Convert;

/// <summary>Writes tags into the files of mirrors, moves them, and moves those that are gone to the trash.</summary>
public sealed class MirrorFileHandler(
    Database database, MirrorStore store, CopyFiles copies, WorkerPool workers, Placement placement, Trash trash)
    : ItemHandler<MirrorFileSpec>(ItemKind)
{
    public static readonly ItemKind<MirrorFileSpec, MirrorFileResult> ItemKind = new(
        "mirror-file", () => ConvertJson.Default.MirrorFileSpec, () => ConvertJson.Default.MirrorFileResult);

    protected override async Task<ItemOutcome> ExecuteAsync(
        RunItemRow item, MirrorFileSpec spec, ItemContext context, CancellationToken cancellation)
    {
        return spec.Action switch
        {
            MirrorAction.Tag => await TagAsync(item, spec, cancellation).ConfigureAwait(false),
            MirrorAction.Move => Move(spec),
            _ => Remove(spec),
        };
    }

    protected override ItemDescription Describe(RunItemRow item, MirrorFileSpec spec)
    {
        var (doing, outcome) = spec.Action switch
        {
            MirrorAction.Tag => ("Writing tags", "Tags written"),
            MirrorAction.Move => ("Moving", "Moved"),
            _ => ("Moving", "In the trash"),
        };
        return new ItemDescription(doing, outcome)
        {
            Path = Path.GetRelativePath(spec.Root, ItemKind.ResultOf(item)?.Path ?? spec.To ?? spec.Path),
            Detail = spec.Action == MirrorAction.Move ? $"was {Path.GetRelativePath(spec.Root, spec.Path)}" : "",
            OnFailure = "The file is unchanged.",
        };
    }

    private async Task<ItemOutcome> TagAsync(RunItemRow item, MirrorFileSpec spec, CancellationToken cancellation)
    {
        // It may have moved in this run.
        if (store.File(spec.MirrorId, spec.TrackId)?.Path is not { } path || !PlainFile.Exists(path))
            return ItemOutcome.Failed($"{spec.Path} is no longer there. The next update makes it again.");
        var file = placement.Begin(path, item.Id);
        try
        {
            var reply = await workers.RunAsync(
                new RetagJob(path, spec.Job! with { OutputPath = file.TemporaryPath }), WorkerPriority.Requested, null,
                cancellation).ConfigureAwait(false);
            if (reply is not RetagReply)
            {
                placement.Discard(file);
                return ItemOutcome.Failed(reply.Failure ?? "The worker gave no reason.");
            }

            placement.Replace(file, path);
        }
        catch
        {
            placement.Discard(file);
            throw;
        }

        await copies.SaveTagsAsync(path).ConfigureAwait(false);
        store.Save(spec.MirrorId, spec.Entry! with { Path = path });
        placement.Settle(file);
        return ItemKind.Done(new MirrorFileResult(path));
    }

    private ItemOutcome Move(MirrorFileSpec spec)
    {
        // If the server ended after a move, the new path is already recorded.
        var known = store.File(spec.MirrorId, spec.TrackId)?.Path ?? spec.Path;
        if (known != spec.Path && PlainFile.Exists(known))
            return ItemKind.Done(new MirrorFileResult(known));
        if (!PlainFile.Exists(spec.Path))
            return ItemOutcome.Failed($"{spec.Path} is no longer there. The next update makes it again.");
        // If it ended just before the move, the library already has the copy under its new path: that name is its own.
        var moved = placement.Move(
            spec.Path, spec.To!, isFree: path => path == known || copies.IsFree(path), recordPlace: to => Record(spec, known, to));
        Placement.RemoveEmptyFoldersAbove(spec.Path, spec.Root);
        return ItemKind.Done(new MirrorFileResult(moved));
    }

    /// <summary>Both in one change: otherwise the name would count as taken after a restart.</summary>
    private void Record(MirrorFileSpec spec, string known, string path) => database.Change(connection =>
    {
        copies.SetPath(connection, known, path);
        MirrorStore.SetPath(connection, spec.MirrorId, spec.TrackId, path);
    });

    private ItemOutcome Remove(MirrorFileSpec spec)
    {
        if (PlainFile.Exists(spec.Path))
        {
            const string Reason = "no longer in a mirror";
            if (copies.At(spec.Path) is { } copy)
            {
                if (trash.Take(copy, Reason) is { } refusal)
                    return ItemOutcome.Failed(refusal);
            }
            else
            {
                trash.TakeFile(spec.Path, Reason);
            }
        }

        store.Forget(spec.MirrorId, spec.TrackId, spec.Path);
        Placement.RemoveEmptyFoldersAbove(spec.Path, spec.Root);
        return ItemKind.Done(new MirrorFileResult(null));
    }
}
