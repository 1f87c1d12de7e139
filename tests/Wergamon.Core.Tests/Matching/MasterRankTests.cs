using CsCheck;
using Wergamon.Core.Matching;
using Wergamon.Core.Planning;

namespace Wergamon.Core.Tests.Matching;

/// <summary>Which copy of a track is the master. The order of the criteria is ours; the first that is better decides.</summary>
public sealed class MasterRankTests
{
    private static readonly MasterRank Middle = new()
    {
        IsMissing = true,
        Generation = 5,
        IsMadeFromAnother = true,
        IsLossless = false,
        Fidelity = Fidelity.Recalculated,
        Bits = 16,
        Rate = 44_100,
        Channels = 2,
        TagCount = 8,
        CopyId = 100,
    };

    /// <summary>From the strongest on: what makes a copy better, and what makes it worse than it could be.</summary>
    private static readonly (string Name, Func<MasterRank, MasterRank> Better)[] Criteria =
    [
        ("exists", rank => rank with { IsMissing = false }),
        ("fewer lossy generations", rank => rank with { Generation = rank.Generation - 1 }),
        ("not made from another copy", rank => rank with { IsMadeFromAnother = false }),
        ("lossless", rank => rank with { IsLossless = true }),
        ("exact", rank => rank with { Fidelity = rank.Fidelity - 1 }),
        ("more bits", rank => rank with { Bits = rank.Bits + 8 }),
        ("a higher rate", rank => rank with { Rate = rank.Rate + 3_900 }),
        ("more channels", rank => rank with { Channels = rank.Channels + 4 }),
        ("more tags", rank => rank with { TagCount = rank.TagCount + 1 }),
        ("added earlier", rank => rank with { CopyId = rank.CopyId - 1 }),
    ];

    public static TheoryData<int, string> Places => [.. Criteria.Select((criterion, place) => (place, criterion.Name))];

    [Theory]
    [MemberData(nameof(Places))]
    public void The_first_better_criterion_decides(int place, string name)
    {
        // All weaker criteria speak for the other copy, the stronger ones for neither.
        var better = Criteria[place].Better(Middle);
        var other = Criteria[(place + 1)..].Aggregate(Middle, (rank, weaker) => weaker.Better(rank));
        Assert.True(MasterRank.Order.Compare(better, other) < 0, name);
        Assert.True(MasterRank.Order.Compare(other, better) > 0, name);
    }

    [Fact]
    public void Copies_have_one_order()
    {
        var rank =
            from missing in Gen.Bool
            from generation in Gen.Int[0, 2]
            from made in Gen.Bool
            from lossless in Gen.Bool
            from bits in Gen.OneOfConst(0, 16, 24)
            from tags in Gen.Int[0, 2]
            from id in Gen.Long[1, 9]
            select Middle with
            {
                IsMissing = missing,
                Generation = generation,
                IsMadeFromAnother = made,
                IsLossless = lossless,
                Bits = bits,
                TagCount = tags,
                CopyId = id,
            };
        Gen.Select(rank, rank, rank).Sample((a, b, c) =>
        {
            int ab = MasterRank.Order.Compare(a, b), bc = MasterRank.Order.Compare(b, c);
            return ab == -MasterRank.Order.Compare(b, a) && (ab == 0) == (a == b)
                && (ab >= 0 || bc >= 0 || MasterRank.Order.Compare(a, c) < 0);
        });
    }
}
