using Wergamon.Web.Display;

namespace Wergamon.Web.Tests;

public sealed class ShortPathTests
{
    [Theory]
    [InlineData("/a.flac", "", "a.flac")]
    [InlineData("/music/Tin Orchard/Carts/a.flac", "music|Tin Orchard|Carts", "a.flac")]
    [InlineData("/home/me/Tin Orchard/Carts/a.flac", "home|me|Tin Orchard|Carts", "a.flac")]
    [InlineData("/home/me/Music/Old laptop/Tin Orchard/Carts/a.flac", "home|…|Tin Orchard|Carts", "a.flac")]
    public void A_long_path_is_cut_in_the_middle(string path, string folders, string name)
    {
        var shown = new ShortPath(path);
        Assert.Equal((folders, name), (string.Join('|', shown.Folders.Select(part => part.Name)), shown.FileName));
        Assert.All(
            shown.Folders.Where(part => part.Path is not null), part => Assert.StartsWith(part.Path!, path, StringComparison.Ordinal));
    }
}
