using CsCheck;
using Wergamon.Core.Playlists;

namespace Wergamon.Core.Tests.Playlists;

/// <summary>Changes of an order, against what a person would do with a pile of cards.</summary>
public sealed class OrderingTests
{
    private static readonly Gen<(long[] Order, long[] Picked, int Place)> Orders = Gen.Select(
        Gen.Int[0, 12].SelectMany(count => Gen.Shuffle(Enumerable.Range(1, count).Select(i => (long)i).ToArray())),
        Gen.Long[1, 14].Array[0, 6], Gen.Int[-3, 14],
        (order, picked, place) => (order, picked, place));

    [Theory]
    [InlineData("1,2,3,4,5", "2,4", 1L, "2,4,1,3,5")]
    [InlineData("1,2,3,4,5", "2,4", 4L, "1,3,2,4,5")]
    [InlineData("1,2,3,4,5", "1,2", null, "3,4,5,1,2")]
    [InlineData("1,2,3,4,5", "1,2", 99L, "3,4,5,1,2")]
    [InlineData("1,2,3", "7", 1L, "1,2,3")]
    public void Picked_items_move_before_another(string order, string picked, long? before, string expected) =>
        Assert.Equal(Numbers(expected), Ordering.Move(Numbers(order), Numbers(picked).ToHashSet(), before));

    [Theory]
    [InlineData("1,2,3,4", "3,1", "3,4,1,2")]
    [InlineData("1,2,3,4", "4,3,2,1", "4,3,2,1")]
    [InlineData("1,2,3", "3", "1,2,3")]
    [InlineData("1,2,1,3", "1,1", "1,2,1,3")]
    [InlineData("1,2", "9,2", "1,9,2")]
    public void An_order_of_some_is_adopted_and_the_others_stay(string order, string partial, string expected) =>
        Assert.Equal(Numbers(expected), Ordering.Adopt(Numbers(order), Numbers(partial)));

    /// <summary>Nothing is lost whatever the order has and lacks; what it has stands in it as it says.</summary>
    [Fact]
    public void Adopting_an_order_loses_nothing() => Gen.Select(Gen.Long[1, 8].Array[0, 12], Gen.Long[1, 10].Array[0, 12]).Sample(
        (order, partial) =>
        {
            var adopted = Ordering.Adopt(order, partial);
            foreach (long item in order.Concat(partial).Distinct())
                Assert.Equal(
                    Math.Max(order.Count(each => each == item), partial.Count(each => each == item)), adopted.Count(each => each == item));
            int at = 0;
            foreach (long item in adopted)
                at += at < partial.Length && partial[at] == item ? 1 : 0;
            Assert.Equal(partial.Length, at);
            Assert.Equal(order, Ordering.Adopt(order, order));
        },
        iter: 2000);

    [Theory]
    [InlineData("1,2,3,4,5", "2,4", -1, "2,4,1,3,5")]
    [InlineData("1,2,3,4,5", "2,4", 1, "1,3,2,4,5")]
    [InlineData("1,2,3,4,5", "1", -1, "1,2,3,4,5")]
    [InlineData("1,2,3,4,5", "4,5", 3, "1,2,3,4,5")]
    public void A_picked_block_is_shifted_and_stays_at_the_ends(string order, string picked, int by, string expected) =>
        Assert.Equal(Numbers(expected), Ordering.Shift(Numbers(order), Numbers(picked).ToHashSet(), by));

    /// <summary>One item at a time, taken out and put in, gives the same as all at once.</summary>
    [Fact]
    public void Bulk_move_equals_single_moves() => Orders.Sample(sample =>
    {
        var (order, picked, place) = sample;
        var chosen = picked.ToHashSet();
        long? before = place >= 0 && place < order.Length ? order[place] : null;
        // A picked item as the place stands for the next one that stays.
        var anchor = before is null
            ? null
            : order.SkipWhile(item => item != before).Cast<long?>().FirstOrDefault(item => !chosen.Contains(item!.Value));
        var pile = order.ToList();
        foreach (long item in order.Where(chosen.Contains))
        {
            pile.Remove(item);
            pile.Insert(anchor is { } next ? pile.IndexOf(next) : pile.Count, item);
        }

        Assert.Equal(pile, Ordering.Move(order, chosen, before));
    });

    [Fact]
    public void Every_change_keeps_every_item_once_and_leaves_the_others_in_order() => Orders.Sample(sample =>
    {
        var (order, picked, by) = sample;
        var chosen = picked.ToHashSet();
        var random = new Random(by);
        var all = new[]
        {
            Ordering.Shift(order, chosen, by),
            Ordering.Reverse(order, chosen),
            Ordering.Sort(order, chosen, item => item % 3 == 0 ? null : $"{item:00}", StringComparer.Ordinal, by > 5),
            Ordering.Shuffle(order, chosen, item => $"artist {item % 3}", random.Next),
        };
        foreach (var changed in all)
        {
            Assert.Equal(order.Order(), changed.Order());
            if (order.Any(chosen.Contains))
                Assert.Equal(order.Where(item => !chosen.Contains(item)), changed.Where(item => !chosen.Contains(item)));
        }

        Assert.Equal(order, Ordering.Reverse(Ordering.Reverse(order, chosen), chosen));
    });

    [Fact]
    public void Shuffling_keeps_an_artist_apart_where_that_can_be() => Gen.Select(Gen.Int[0, 4].Array[1, 14], Gen.Int).Sample(
        (artists, seed) =>
    {
        long[] order = [.. Enumerable.Range(0, artists.Length).Select(i => (long)i)];
        var random = new Random(seed);
        var shuffled = Ordering.Shuffle(order, new HashSet<long>(), item => $"{artists[item]}", random.Next);
        int most = artists.CountBy(artist => artist).Max(each => each.Value);
        int neighbours = shuffled.Zip(shuffled.Skip(1)).Count(pair => artists[pair.First] == artists[pair.Second]);
        // With more than half of all and one, some have to be neighbours, and no more than that.
        Assert.Equal(Math.Max(0, 2 * most - artists.Length - 1), neighbours);
    });

    [Fact]
    public void Items_without_a_key_come_last_and_equal_ones_keep_their_order()
    {
        var keys = new Dictionary<long, string?> { [1] = "b", [2] = null, [3] = "a", [4] = "b", [5] = "a" };
        Assert.Equal(
            [3, 5, 1, 4, 2],
            Ordering.Sort([1, 2, 3, 4, 5], new HashSet<long>(), item => keys[item], StringComparer.Ordinal, isDescending: false));
        Assert.Equal(
            [1, 4, 3, 5, 2],
            Ordering.Sort([1, 2, 3, 4, 5], new HashSet<long>(), item => keys[item], StringComparer.Ordinal, isDescending: true));
    }

    private static long[] Numbers(string list) => [.. list.Split(',').Select(long.Parse)];
}
