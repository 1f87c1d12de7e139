using Wergamon.App.Library.Removing;
using Wergamon.App.Runs;
using Wergamon.App.Tracks;

namespace Wergamon.App.Convert;

/// <summary>An original that is moved to the trash once all its copies are proved.</summary>
public sealed record TrashOriginalSpec(long CopyId, string Path);

/// <summary>Moves originals to the trash if the plan says so.</summary>
public sealed class TrashOriginalHandler(Trash trash, LibraryQueries library) : ItemHandler<TrashOriginalSpec>(ItemKind)
{
    public static readonly ItemKind<TrashOriginalSpec> ItemKind = new("trash-original", () => ConvertJson.Default.TrashOriginalSpec);

    protected override Task<ItemOutcome> ExecuteAsync(
        RunItemRow item, TrashOriginalSpec spec, ItemContext context, CancellationToken cancellation)
    {
        // It may have been moved since then; another file may have its path.
        if (library.Copy(spec.CopyId) is not { } copy || copy.Path != spec.Path)
            return Task.FromResult(
                IsInTrash(spec)
                    ? ItemOutcome.Done(null)
                    : ItemOutcome.Failed($"{spec.Path} has changed since it was converted; it was left untouched."));
        return Task.FromResult(
            trash.Take(copy, "converted, and the copy proved") is { } refusal ? ItemOutcome.Failed(refusal) : ItemOutcome.Done(null));
    }

    protected override Task<ItemOutcome?> RecoverAsync(RunItemRow item, TrashOriginalSpec spec, CancellationToken cancellation) =>
        Task.FromResult(IsInTrash(spec) ? ItemOutcome.Done(null) : null);

    protected override ItemDescription Describe(RunItemRow item, TrashOriginalSpec spec) =>
        new("Moving", "In the trash") { Detail = spec.Path, OnFailure = "The original stays where it is." };

    private bool IsInTrash(TrashOriginalSpec spec) => trash.Holds(spec.CopyId);
}
