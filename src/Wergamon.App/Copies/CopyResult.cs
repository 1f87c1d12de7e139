using System.Text.Json;
using Wergamon.App.Runs;
using Wergamon.Core.Jobs;

namespace Wergamon.App.Copies;

/// <summary>A copy that was made.</summary>
public sealed record CopyResult
{
    public required string Path { get; init; }

    public long? CopyId { get; init; }

    public required Proof Proof { get; init; }

    /// <summary>Null for an item that has made none.</summary>
    public static CopyResult? Of(RunItemRow item) =>
        item is
        {
            Kind: CopyItemKind.Convert or CopyItemKind.Rip or CopyItemKind.Deliver or CopyItemKind.Join, State: ItemState.Done,
            Result: { } result
        }
            ? Read(result)
            : null;

    /// <summary>Null where none was made.</summary>
    internal static CopyResult? Of(ItemOutcome outcome) => outcome is { State: ItemState.Done, Result: { } result } ? Read(result) : null;

    private static CopyResult? Read(string result) => JsonSerializer.Deserialize(result, CopiesJson.Default.CopyResult);
}
