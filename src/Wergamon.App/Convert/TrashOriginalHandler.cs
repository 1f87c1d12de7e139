using System.Text.Json;
using Wergamon.App.Library;
using Wergamon.App.Runs;

namespace Wergamon.App.Convert;

/// <summary>An original that goes once all its copies are proved.</summary>
internal sealed record TrashOriginalSpec(long CopyId, string Path)
{
    public int Version { get; init; } = 1;

    public string ToJson() => JsonSerializer.Serialize(this, ConvertJson.Default.TrashOriginalSpec);

    public static TrashOriginalSpec Of(RunItemRow item) => item.SpecAs(ConvertJson.Default.TrashOriginalSpec);
}

/// <summary>Moves originals to the trash, where the plan says so.</summary>
public sealed class TrashOriginalHandler(Trash trash, LibraryQueries library) : IItemHandler
{
    /// <summary>Names the items.</summary>
    public const string ItemKind = "trash-original";

    public string Kind => ItemKind;

    public Task<ItemOutcome> ExecuteAsync(RunItemRow item, ItemContext context, CancellationToken cancellation)
    {
        var spec = TrashOriginalSpec.Of(item);
        // It may have been moved since, and then is another file than the one that was read.
        if (library.Copy(spec.CopyId) is not { } copy || copy.Path != spec.Path)
            return Task.FromResult(IsInTrash(spec) ? ItemOutcome.Done(null) : ItemOutcome.Failed($"{spec.Path} is no longer what was converted; it was left untouched."));
        return Task.FromResult(trash.Take(copy, "converted, and the copy proved") is { } refusal ? ItemOutcome.Failed(refusal) : ItemOutcome.Done(null));
    }

    public Task<ItemOutcome?> RecoverAsync(RunItemRow item, CancellationToken cancellation) =>
        Task.FromResult(IsInTrash(TrashOriginalSpec.Of(item)) ? ItemOutcome.Done(null) : null);

    public ItemDescription Describe(RunItemRow item) => new("Moving", "In the trash") { Detail = TrashOriginalSpec.Of(item).Path, OnFailure = "The original stays where it is." };

    private bool IsInTrash(TrashOriginalSpec spec) => trash.Holds(spec.CopyId);
}
