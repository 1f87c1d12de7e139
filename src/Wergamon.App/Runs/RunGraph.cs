namespace Wergamon.App.Runs;

/// <summary>
/// The items of a run and what each waits for. A failure fails everything that needs the item's success, at any depth; a retry follows
/// the same dependencies, so that nothing that the failure reached is left out.
/// </summary>
/// <param name="hasResult">False for a finished item whose result is gone, so that items which need it cannot be done.</param>
public sealed class RunGraph(IReadOnlyDictionary<long, ItemState> states, IReadOnlyCollection<ItemWait> waits, Func<long, bool> hasResult)
{
    private readonly ILookup<long, ItemWait> _before = waits.ToLookup(wait => wait.ItemId), _after = waits.ToLookup(wait => wait.OnItemId);

    /// <summary>The items to repeat when failed ones are retried.</summary>
    /// <param name="itemId">A failed item; null for all that have failed. Empty for any other item.</param>
    public IReadOnlySet<long> ToRetry(long? itemId)
    {
        var wanted = states.Where(item => item.Value == ItemState.Failed && item.Key == (itemId ?? item.Key)).Select(item => item.Key);
        // The items that it failed with come before it: otherwise it would never start.
        var retried = Reach(wanted, id => Before(id).Where(HasFailed));
        // Every item comes after those that it waits for. Items that failed with a retried one wait again, unless something else that they
        // need stays failed.
        foreach (long id in Reach(retried, id => After(id).Where(HasFailed)).Order())
        {
            if (Before(id).All(needed => !HasFailed(needed) || retried.Contains(needed)))
                retried.Add(id);
        }

        return WithLostAndFollowing(retried);
    }

    /// <summary>The items to repeat when results of finished ones are lost: these, and dependents that failed or are under way.</summary>
    public IReadOnlySet<long> ToReopen(IReadOnlyCollection<long> itemIds) =>
        WithLostAndFollowing(Reach(itemIds, id => After(id).Where(next => states[next] is ItemState.Failed or ItemState.Working)));

    /// <summary>Adds items whose results are needed and gone, and items that follow.</summary>
    private HashSet<long> WithLostAndFollowing(HashSet<long> items) => Reach(
        items,
        id => Before(id).Where(needed => states[needed] == ItemState.Done && !hasResult(needed))
            .Concat(
                _after[id]
                    .Where(wait => wait.Reason == WaitReason.End && states[wait.ItemId] == ItemState.Done)
                    .Select(wait => wait.ItemId)));

    private bool HasFailed(long id) => states[id] == ItemState.Failed;

    /// <summary>The items whose results an item needs.</summary>
    private IEnumerable<long> Before(long id) => _before[id].Where(wait => wait.Reason == WaitReason.Success).Select(wait => wait.OnItemId);

    /// <summary>The items that need the result of an item.</summary>
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
