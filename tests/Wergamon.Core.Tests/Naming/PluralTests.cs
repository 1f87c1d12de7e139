using Wergamon.Core.Naming;

namespace Wergamon.Core.Tests.Naming;

public sealed class PluralTests
{
    [Theory]
    [InlineData(0, "track", "0 tracks")]
    [InlineData(1, "track", "1 track")]
    [InlineData(-1, "sample", "-1 sample")]
    [InlineData(50_000, "track", "50,000 tracks")]
    [InlineData(2, "copy", "2 copies")]
    [InlineData(2, "key", "2 keys")]
    [InlineData(3, "pass", "3 passes")]
    [InlineData(2, "batch", "2 batches")]
    public void Counts_have_singular_and_plural(long count, string noun, string expected) =>
        Assert.Equal(expected, Plural.Count(count, noun));
}
