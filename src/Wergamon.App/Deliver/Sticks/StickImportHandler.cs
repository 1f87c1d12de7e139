using Wergamon.App.Files;
using Wergamon.App.Library.Scan;
using Wergamon.App.Runs;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>A file of a stick that goes into a music folder.</summary>
/// <param name="Path">On the stick.</param>
/// <param name="Wanted">Where it goes.</param>
public sealed record StickImportSpec(string Place, string Mark, string Path, long FolderId, string Wanted)
{
    /// <summary>0 in items of version 1.</summary>
    public long StickId { get; init; }
}

/// <summary>Imports music that somebody added to a stick into a music folder, where the next scan finds it.</summary>
public sealed class StickImportHandler(StickStore store, StickGuard gate, Placement placement, MusicFolders folders)
    : ItemHandler<StickImportSpec>(ItemKind)
{
    public static readonly ItemKind<StickImportSpec, StickFileResult> ItemKind = new(
        "stick-import", () => StickRunsJson.Default.StickImportSpec, () => StickRunsJson.Default.StickFileResult);

    protected override Task<ItemOutcome> ExecuteAsync(
        RunItemRow item, StickImportSpec spec, ItemContext context, CancellationToken cancellation) => DedicatedThread.RunAsync(() =>
    {
        var source = Path.Combine(spec.Place, spec.Path);
        return StickGuard.Run(spec.Place, spec.Mark, 0, () =>
        {
            if (!PlainFile.Exists(source))
                return ItemOutcome.Failed($"{spec.Path} is no longer on the stick.");
            var stamp = gate.StampAt(spec.StickId, spec.Place, spec.Path);
            var file = placement.Begin(spec.Wanted, item.Id);
            try
            {
                using (var stream = PlainFile.Open(source, FileMode.Open, FileAccess.Read, bufferSize: 0))
                {
                    var hash = ProvedCopy.Write(stream, file.TemporaryPath, share => context.Report(share), cancellation);
                    ProvedCopy.Prove(file.TemporaryPath, hash, _ => { }, cancellation);
                }

                // A second attempt finds what the first has left.
                var (path, _) = placement.PublishUnlessThere(file.TemporaryPath, spec.Wanted);
                placement.Settle(file);
                if (stamp is { } then)
                    store.NoteImport(spec.StickId, new StickImport(spec.Path, path, then));
                folders.Rescan(spec.FolderId);
                return ItemKind.Done(new StickFileResult(path, PlainFile.Length(path)));
            }
            catch
            {
                placement.Discard(file);
                throw;
            }
        });
    });

    protected override ItemDescription Describe(RunItemRow item, StickImportSpec spec) => new("Copying", "Copied")
    {
        Path = ItemKind.ResultOf(item)?.Path ?? spec.Wanted,
        OnFailure = "The stick is unchanged.",
    };
}
