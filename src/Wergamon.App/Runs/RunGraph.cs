namespace Wergamon.App.Runs;

/// <summary>
/// The items of a run and what each waits for. A failure fails everything that needs the item's success, at any depth; a retry goes
/// the same way, so that nothing stays behind that the failure reached.
/// </summary>
/// <param name="hasResult">False for a finished item whose result is gone, so that items which need it cannot be done.</param>
public sealed class RunGraph(IReadOnlyDictionary<long, ItemState> states, IReadOnlyCollection<ItemWait> waits, Func<long, bool> hasResult)
{
    private readonly ILookup<long, ItemWait> _before = waits.ToLookup(wait => wait.ItemId), _after = waits.ToLookup(wait => wait.OnItemId);

    /// <summary>The items to do again when failed ones are retried.</summary>
    /// <param name="itemId">A failed item; null for all that have failed. Empty for any other item.</param>
    public IReadOnlySet<long> ToRetry(long? itemId)
    {
        var wanted = states.Where(item => item.Value == ItemState.Failed && item.Key == (itemId ?? item.Key)).Select(item => item.Key);
        // What an item failed with comes before it: without that it would never have its turn.
        var retried = Reach(wanted, id => Before(id).Where(HasFailed));
        // Every item comes after those that it waits for. What failed with a retried one has its turn again, unless something else that it
        // needs stays failed.
        foreach (long id in Reach(retried, id => After(id).Where(HasFailed)).Order())
        {
            if (Before(id).All(needed => !HasFailed(needed) || retried.Contains(needed)))
                retried.Add(id);
        }

        return WithLostAndFollowing(retried);
    }

    /// <summary>The items to do again when results of finished ones are lost: these and what failed, or is under way, with them.</summary>
    public IReadOnlySet<long> ToReopen(IReadOnlyCollection<long> itemIds) =>
        WithLostAndFollowing(Reach(itemIds, id => After(id).Where(next => states[next] is ItemState.Failed or ItemState.Working)));

    /// <summary>Adds what has to be done again for them, because its result is gone, and what follows them.</summary>
    private HashSet<long> WithLostAndFollowing(HashSet<long> items) => Reach(
        items,
        id => Before(id).Where(needed => states[needed] == ItemState.Done && !hasResult(needed))
            .Concat(
                _after[id]
                    .Where(wait => wait.Reason == WaitReason.End && states[wait.ItemId] == ItemState.Done)
                    .Select(wait => wait.ItemId)));

    private bool HasFailed(long id) => states[id] == ItemState.Failed;

    /// <summary>What an item needs the results of.</summary>
    private IEnumerable<long> Before(long id) => _before[id].Where(wait => wait.Reason == WaitReason.Success).Select(wait => wait.OnItemId);

    /// <summary>What needs the result of an item.</summary>
    private IEnumerable<long> After(long id) => _after[id].Where(wait => wait.Reason == WaitReason.Success).Select(wait => wait.ItemId);

    private static HashSet<long> Reach(IEnumerable<long> from, Func<long, IEnumerable<long>> next)
    {
        var reached = from.ToHashSet();
        var open = new Stack<long>(reached);
        while (open.TryPop(out long id))
        {
            foreach (long other in next(id).Where(reached.Add))
                open.Push(other);
        }

        return reached;
    }
}
