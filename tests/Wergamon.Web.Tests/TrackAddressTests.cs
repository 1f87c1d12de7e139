using Microsoft.AspNetCore.Http;
using Microsoft.AspNetCore.WebUtilities;
using Wergamon.App.Tracks;
using Wergamon.Web.Display;

namespace Wergamon.Web.Tests;

public sealed class TrackAddressTests
{
    [Theory]
    [InlineData("", null, null, TrackSort.Artist, false)]
    [InlineData("лампа & \"wick\" ?#/=+%", "WMA Lossless", "/music/a b/灯&火=1", TrackSort.Added, true)]
    public void A_list_survives_its_address(string words, string? format, string? folder, TrackSort sort, bool isDescending)
    {
        foreach (var marks in new TrackFilter[][] { [], [TrackFilter.Missing], Enum.GetValues<TrackFilter>() })
        {
            var view = new TrackView(words, marks, format, folder, sort, isDescending);
            var read = Read(TrackAddress.Write(view));
            Assert.Equal(view, read with { Marks = view.Marks });
            Assert.Equal(view.Marks, read.Marks);
        }
    }

    [Theory]
    [InlineData("?sort=99&down=yes&show=everything&show=missing&show=missing")]
    [InlineData("?sort=size%20DESC&show=missing")]
    public void Unknown_parameters_are_ignored(string address)
    {
        var read = Read(address);
        Assert.Equal((TrackSort.Artist, false), (read.Sort, read.IsDescending));
        Assert.Equal([TrackFilter.Missing], read.Marks);
    }

    [Fact]
    public void A_header_sorts_then_reverses_with_newest_first()
    {
        var view = Read("");
        view = TrackAddress.SortBy(view, TrackSort.Added);
        Assert.True(view.IsDescending);
        Assert.False(TrackAddress.SortBy(view, TrackSort.Added).IsDescending);
        Assert.False(TrackAddress.SortBy(view, TrackSort.Title).IsDescending);
        Assert.Empty(TrackAddress.Toggle(TrackAddress.Toggle(view, TrackFilter.Damaged), TrackFilter.Damaged).Marks);
    }

    private static TrackView Read(string address) => TrackAddress.Read(new QueryCollection(QueryHelpers.ParseQuery(address)));
}
