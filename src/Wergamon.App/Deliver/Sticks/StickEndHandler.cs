using Wergamon.App.Files;
using Wergamon.App.Runs;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>Cleans up a stick and flushes everything to it, so that it can be unplugged.</summary>
public sealed class StickEndHandler(StickStore store, StickGuard gate, StickSpeeds speeds, Placement placement)
    : ItemHandler<StickFileSpec>(ItemKind)
{
    public static readonly ItemKind<StickFileSpec> ItemKind = new("stick-end", () => StickRunsJson.Default.StickFileSpec);

    protected override Task<ItemOutcome> ExecuteAsync(
        RunItemRow item, StickFileSpec spec, ItemContext context, CancellationToken cancellation) => DedicatedThread.RunAsync(() =>
    {
        return StickGuard.Run(spec.Place, spec.Mark, 0, () =>
        {
            RemoveStrays(spec);
            StickPlaces.Flush(spec.Place);
            speeds.Keep(spec.StickId);
            return ItemOutcome.Done(null);
        });
    });

    protected override ItemDescription Describe(RunItemRow item, StickFileSpec spec) => new("Finishing", "Written");

    /// <summary>
    /// Removes unfinished files, and those that another file has replaced: nothing but files that were written here and are
    /// as they were then.
    /// </summary>
    private void RemoveStrays(StickFileSpec spec)
    {
        placement.ClearUp(spec.Place);
        var known = store.Files(
            spec.StickId, path => gate.StampAt(spec.StickId, spec.Place, path)).Files.Values.Select(file => file.File.Path)
            .ToHashSet();
        foreach (var (path, stamp) in store.Strays(spec.StickId))
        {
            if (!known.Contains(path) && gate.StampAt(spec.StickId, spec.Place, path) == stamp)
                Placement.Remove(Path.Combine(spec.Place, path));
            store.ForgetStray(spec.StickId, path);
        }
    }
}
