using Wergamon.App.Convert;
using Wergamon.Core.Sync;

namespace Wergamon.Web.Pages.Convert;

/// <summary>What a mirror needs, in a line.</summary>
/// <param name="Changes">What an update would do.</param>
public sealed record MirrorState(long Id, string Words, int Changes, bool IsBad)
{
    public static MirrorState Of(MirrorView view)
    {
        long id = view.Mirror.Id;
        if (view.RunId is not null)
            return new MirrorState(id, "being updated", 0, false);
        if (view.IsAway)
            return new MirrorState(id, "its folder is not there", 0, true);
        string?[] parts =
        [
            Count(view, "new", SyncState.New), Count(view, "changed", SyncState.Sound, SyncState.Tags),
            Count(view, "moved", SyncState.Moved),
            Count(view, "to make again", SyncState.Deleted), Count(view, "gone", SyncState.Gone),
            Count(view, "not analysed", SyncState.NotAnalysed), Count(view, "without its source", SyncState.SourceMissing),
        ];
        var words = string.Join(", ", parts.Where(part => part is not null));
        return new MirrorState(id, words.Length == 0 ? "in step" : words, view.ToDo.Count, false);
    }

    private static string? Count(MirrorView view, string what, params SyncState[] states) =>
        states.Sum(view.Count) is > 0 and var count ? $"{count:N0} {what}" : null;
}
