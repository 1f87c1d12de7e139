namespace Wergamon.Core.Playlists;

/// <summary>
/// Changes of an order that a person makes by hand. Items are known by numbers of their own, so that two windows that change the same list
/// lose nothing.
/// </summary>
public static class Ordering
{
    /// <summary>Moves items, in the order that they have, in front of another.</summary>
    /// <param name="order">Each item once.</param>
    /// <param name="picked">Those that are not in the order are skipped.</param>
    /// <param name="before">Null, or an item that is gone, for the end. If it is picked, the next one that is not counts.</param>
    public static IReadOnlyList<long> Move(IReadOnlyList<long> order, IReadOnlySet<long> picked, long? before)
    {
        int place = before is { } item ? IndexOf(order, item) : -1;
        if (place < 0)
            place = order.Count;
        return
        [
            .. order.Take(place).Where(each => !picked.Contains(each)),
            .. order.Where(picked.Contains),
            .. order.Skip(place).Where(each => !picked.Contains(each)),
        ];
    }

    /// <summary>Moves items up or down together; they end side by side, and at an end of the list they stay.</summary>
    /// <param name="by">Places: -1 is one up.</param>
    public static IReadOnlyList<long> Shift(IReadOnlyList<long> order, IReadOnlySet<long> picked, int by)
    {
        var others = order.Where(each => !picked.Contains(each)).ToList();
        int first = order.TakeWhile(each => !picked.Contains(each)).Count();
        if (others.Count == order.Count)
            return order;
        int place = Math.Clamp(first + by, 0, others.Count);
        return [.. others.Take(place), .. order.Where(picked.Contains), .. others.Skip(place)];
    }

    /// <summary>
    /// Brings items into an order that leaves some of them out: those keep their place behind the item that they follow now.
    /// </summary>
    /// <param name="order">All items.</param>
    /// <param name="partial">Some of them in another order, and others, which come along.</param>
    public static IReadOnlyList<long> Adopt(IReadOnlyList<long> order, IReadOnlyList<long> partial)
    {
        // An item may occur more than once: each time is one of its own.
        var left = partial.CountBy(item => item).ToDictionary();
        var behind = new Dictionary<(long Item, int Time), List<long>>();
        var first = new List<long>();
        var group = first;
        foreach (long item in order)
        {
            if (left.GetValueOrDefault(item) is > 0 and var time)
            {
                left[item] = time - 1;
                behind[(item, time)] = group = [];
            }
            else
            {
                group.Add(item);
            }
        }

        var adopted = new List<long>(first);
        var times = partial.CountBy(item => item).ToDictionary();
        foreach (long item in partial)
        {
            adopted.Add(item);
            adopted.AddRange(behind.GetValueOrDefault((item, times[item]--)) ?? []);
        }

        return adopted;
    }

    /// <summary>Reverses the picked items where they stand, or all where none is picked.</summary>
    public static IReadOnlyList<long> Reverse(IReadOnlyList<long> order, IReadOnlySet<long> picked) =>
        Rearrange(order, picked, chosen => chosen.Reverse());

    /// <summary>Sorts the picked items into the places that they have, or all where none is picked. Equal ones keep their order.</summary>
    /// <param name="keyOf">Items without a key come last.</param>
    public static IReadOnlyList<long> Sort<T>(
        IReadOnlyList<long> order, IReadOnlySet<long> picked, Func<long, T?> keyOf, IComparer<T> comparer, bool isDescending)
        where T : class =>
        Rearrange(order, picked, chosen =>
        {
            var keyed = chosen.ToLookup(item => keyOf(item) is not null);
            var sorted = isDescending
                ? keyed[true].OrderByDescending(item => keyOf(item)!, comparer)
                : keyed[true].OrderBy(item => keyOf(item)!, comparer);
            return sorted.Concat(keyed[false]);
        });

    /// <summary>Puts the picked items, or all, into a random order in which no artist follows itself if that can be.</summary>
    /// <param name="random">Where chance comes from: gives a number from 0 up to but not including its argument.</param>
    public static IReadOnlyList<long> Shuffle(
        IReadOnlyList<long> order, IReadOnlySet<long> picked, Func<long, string> artistOf, Func<int, int> random) =>
        Rearrange(order, picked, chosen => Spread(chosen, artistOf, random));

    private static IReadOnlyList<long> Rearrange(
        IReadOnlyList<long> order, IReadOnlySet<long> picked, Func<IEnumerable<long>, IEnumerable<long>> arrange)
    {
        bool isAll = !order.Any(picked.Contains);
        using var arranged = arrange(order.Where(item => isAll || picked.Contains(item)).ToList()).GetEnumerator();
        return [.. order.Select(item => (isAll || picked.Contains(item)) && arranged.MoveNext() ? arranged.Current : item)];
    }

    /// <summary>
    /// Takes from the artist with the most tracks left, so that the rest can still be kept apart; among equals by chance.
    /// </summary>
    private static List<long> Spread(IEnumerable<long> items, Func<long, string> artistOf, Func<int, int> random)
    {
        var left = items.GroupBy(artistOf).Select(group => (Artist: group.Key, Items: Shuffled([.. group], random))).ToList();
        var spread = new List<long>();
        int count = left.Sum(each => each.Items.Count);
        for (int last = -1; count > 0; count--)
        {
            // An artist with more than half of the remaining tracks has to come now; otherwise chances go by numbers of tracks.
            int chosen = left.FindIndex(each => 2 * each.Items.Count > count);
            if (chosen < 0 || chosen == last)
            {
                bool hasOthers = last >= 0 && left[last].Items.Count < count;
                int draw = random(count - (hasOthers ? left[last].Items.Count : 0));
                for (chosen = -1; draw >= 0;)
                {
                    chosen++;
                    draw -= hasOthers && chosen == last ? 0 : left[chosen].Items.Count;
                }
            }

            spread.Add(left[chosen].Items[^1]);
            left[chosen].Items.RemoveAt(left[chosen].Items.Count - 1);
            last = chosen;
        }

        return spread;
    }

    /// <summary>Fisher and Yates.</summary>
    private static List<long> Shuffled(List<long> items, Func<int, int> random)
    {
        for (int i = items.Count - 1; i > 0; i--)
        {
            int other = random(i + 1);
            (items[i], items[other]) = (items[other], items[i]);
        }

        return items;
    }

    private static int IndexOf(IReadOnlyList<long> order, long item)
    {
        for (int i = 0; i < order.Count; i++)
        {
            if (order[i] == item)
                return i;
        }

        return -1;
    }
}
