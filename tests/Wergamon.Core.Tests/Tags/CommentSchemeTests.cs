using CsCheck;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Tests.Tags;

/// <summary>Comments by a person's own scheme.</summary>
public sealed class CommentSchemeTests
{
    private static readonly CommentScheme Scheme = new()
    {
        Fields = [FieldNames.Key, FieldNames.Tempo],
        Scales = [new CommentScale("energy", 5), new CommentScale("crowd", 3)]
    };

    [Fact]
    public void A_comment_has_its_parts_in_a_fixed_order()
    {
        var tags = new TagSet();
        tags.Set(FieldNames.Key, "A minor");
        tags.Set(FieldNames.Tempo, "122");
        var parts = new CommentParts(new Dictionary<string, int> { ["energy"] = 4 }, ["brass", "vocal"]);
        Assert.Equal("A minor, 122 BPM, energy 4, vocal, brass", Scheme.Write(parts, tags, ""));
        Assert.Equal("A minor, 122 BPM, energy 4, vocal, brass | Recorded in the pit", Scheme.Write(parts, tags, "Recorded in the pit"));
        Assert.Equal(
            "Recorded in the pit | A minor, 122 BPM, energy 4, vocal, brass",
            (Scheme with { IsInFront = false }).Write(parts, tags, "Recorded in the pit"));
        Assert.Equal("Recorded in the pit", Scheme.Write(CommentParts.None, tags, "Recorded in the pit"));
    }

    /// <summary>What is written is read back, whatever else the comment says.</summary>
    [Fact]
    public void Written_comments_are_read_back() =>
        Gen.Select(
            Gen.Int[0, 5], Gen.Int[0, 3], Gen.Shuffle(Scheme.Words.ToArray()), Gen.Int[0, 5],
            Gen.OneOfConst("", "Recorded in the pit", "one | two", "vocal booth, left", "energy crisis"),
            Gen.Bool).Sample((energy, crowd, words, count, rest, isInFront) =>
        {
            var scheme = Scheme with { IsInFront = isInFront };
            var ratings = new Dictionary<string, int>();
            if (energy > 0)
                ratings["energy"] = energy;
            if (crowd > 0)
                ratings["crowd"] = crowd;
            var parts = new CommentParts(ratings, words[..count]);
            var tags = new TagSet();
            tags.Set(FieldNames.Key, "F# minor");
            var (read, left) = scheme.Read(scheme.Write(parts, tags, rest));
            Assert.Equal(rest, left);
            Assert.Equal(ratings.OrderBy(pair => pair.Key), read.Ratings.OrderBy(pair => pair.Key));
            Assert.Equal(parts.Words.Order(StringComparer.Ordinal), read.Words.Order(StringComparer.Ordinal));
        });
}
