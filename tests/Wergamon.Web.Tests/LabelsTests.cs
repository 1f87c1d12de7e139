using Wergamon.Web.Display;

namespace Wergamon.Web.Tests;

public sealed class LabelsTests
{
    [Theory]
    [InlineData(0, "0:00")]
    [InlineData(59.6, "1:00")]
    [InlineData(252, "4:12")]
    [InlineData(3599.7, "1:00:00")]
    [InlineData(90_061, "25:01:01")]
    [InlineData(-3, "0:00")]
    public void Times_read_as_on_a_player(double seconds, string expected) =>
        Assert.Equal(expected, Labels.Time(TimeSpan.FromSeconds(seconds)));

    [Theory]
    [InlineData(31_390_000, "31.4 MB")]
    [InlineData(999_900_000, "999.9 MB")]
    [InlineData(11_200_000_000, "11.2 GB")]
    public void Sizes_carry_their_unit(long bytes, string expected) => Assert.Equal(expected, Labels.Size(bytes));

    [Theory]
    [InlineData(17_200_000, 9_800_000, "17.2 to 9.8 MB")]
    [InlineData(14_200_000_000, 810_000_000, "14.2 to 0.8 GB")]
    public void Sizes_before_and_after_share_a_unit(long before, long after, string expected) =>
        Assert.Equal(expected, Labels.FromTo(before, after));

    [Theory]
    [InlineData(0.2, "10 seconds")]
    [InlineData(31, "40 seconds")]
    [InlineData(61, "2 minutes")]
    [InlineData(7300, "3 hours")]
    public void Estimates_are_rough(double seconds, string expected) =>
        Assert.Equal(expected, Labels.RoughTime(TimeSpan.FromSeconds(seconds)));

    [Fact]
    public void Days_are_relative_to_today()
    {
        var now = new DateTimeOffset(2026, 6, 24, 12, 0, 0, TimeZoneInfo.Local.GetUtcOffset(new DateTime(2026, 6, 24)));
        Assert.Equal("today", Labels.Day(now.AddHours(-2).ToUnixTimeMilliseconds(), now));
        Assert.Equal("yesterday", Labels.Day(now.AddHours(-20).ToUnixTimeMilliseconds(), now));
        Assert.Equal("12 June 2026", Labels.Day(now.AddDays(-12).ToUnixTimeMilliseconds(), now));
        Assert.Equal("today 10:00", Labels.Moment(now.AddHours(-2).ToUnixTimeMilliseconds(), now));
        Assert.Equal("12 June 2026", Labels.Moment(now.AddDays(-12).ToUnixTimeMilliseconds(), now));
    }
}
