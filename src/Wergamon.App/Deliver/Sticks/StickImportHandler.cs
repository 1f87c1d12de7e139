using System.Text.Json;
using Wergamon.App.Files;
using Wergamon.App.Library;
using Wergamon.App.Runs;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>A file of a stick that goes into a music folder.</summary>
/// <param name="Path">On the stick.</param>
/// <param name="Wanted">Where it goes.</param>
internal sealed record StickImportSpec(string Place, string Mark, string Path, long FolderId, string Wanted)
{
    public int Version { get; init; } = 2;

    /// <summary>0 in items of version 1.</summary>
    public long StickId { get; init; }

    public string ToJson() => JsonSerializer.Serialize(this, DeliverJson.Default.StickImportSpec);

    public static StickImportSpec Of(RunItemRow item) => item.SpecAs(DeliverJson.Default.StickImportSpec);
}

/// <summary>Copies music that somebody put on a stick into a music folder, where the next scan finds it.</summary>
public sealed class StickImportHandler(StickStore store, StickGate gate, Placement placement, MusicFolders folders) : IItemHandler
{
    /// <summary>Names the items.</summary>
    public const string ItemKind = "stick-import";

    public string Kind => ItemKind;

    public Task<ItemOutcome> ExecuteAsync(RunItemRow item, ItemContext context, CancellationToken cancellation) => OwnThread.RunAsync(() =>
    {
        var spec = StickImportSpec.Of(item);
        var source = Path.Combine(spec.Place, spec.Path);
        return StickGate.Through(spec.Place, spec.Mark, 0, () =>
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
                return new StickFileResult(path, PlainFile.Length(path)).ToOutcome();
            }
            catch
            {
                placement.Discard(file);
                throw;
            }
        });
    });

    public ItemDescription Describe(RunItemRow item) => new("Copying", "Copied")
    {
        Path = StickFileResult.Of(item)?.Path ?? StickImportSpec.Of(item).Wanted,
        OnFailure = "The stick is as it was.",
    };
}
