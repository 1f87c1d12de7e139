using Wergamon.App.Deliver.Sticks;
using Wergamon.App.Runs;
using Wergamon.Core.Sync;

namespace Wergamon.Web.Pages.Deliver.Front;

/// <summary>What a stick needs, in a line.</summary>
/// <param name="IsToDo">True if there is something to review.</param>
public sealed record StickState(long Id, string Words, bool IsToDo)
{
    /// <param name="changes">What was changed on the device; null while it is away or being written.</param>
    public static StickState Of(StickView view, StickChanges? changes)
    {
        long id = view.Row.Id;
        if (view.Run is { State: RunState.Running })
            return new StickState(id, "being updated", false);
        if (view.Run is { State: RunState.Stopped })
            return new StickState(id, "the update is stopped", true);
        if (view.Lists.Count == 0 && changes is not { Count: > 0 })
            return new StickState(id, "nothing is to be on it yet", true);
        string?[] parts =
        [
            changes is { Count: > 0 } ? $"{changes.Count:N0} changed on the device" : null,
            Count(view, "to add", SyncState.New, SyncState.Deleted),
            Count(view, "to update", SyncState.Sound, SyncState.Tags),
            Count(view, "to move", SyncState.Moved),
            Count(view, "to remove", SyncState.Gone),
        ];
        var words = string.Join(", ", parts.Where(part => part is not null));
        return view.Place is null
            ? new StickState(id, words.Length > 0 ? $"away; {words} when it is back" : "away; nothing to do", false)
            : new StickState(id, words.Length > 0 ? words : "in step", words.Length > 0);
    }

    private static string? Count(StickView view, string what, params SyncState[] states) =>
        view.Count(states) is > 0 and var count ? $"{count:N0} {what}" : null;
}
