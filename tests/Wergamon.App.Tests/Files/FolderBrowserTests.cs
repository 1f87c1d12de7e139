using Wergamon.App.Files;
using Wergamon.App.Library.Scan;
using Wergamon.App.Storage;
using Wergamon.Testing;

namespace Wergamon.App.Tests.Files;

/// <summary>Folders to choose from: only allowed ones, each with the reason if it cannot be opened.</summary>
public sealed class FolderBrowserTests : IDisposable
{
    private readonly TemporaryFolder _folder = new();

    public FolderBrowserTests()
    {
        foreach (var name in (string[])["music/Tin Orchard/Carts", "music/.hidden", "data/converted", "elsewhere"])
            Directory.CreateDirectory(_folder[name]);
        Directory.CreateSymbolicLink(_folder["music/leads out"], _folder["elsewhere"]);
        Directory.CreateSymbolicLink(_folder["music/leads in"], _folder["music/Tin Orchard"]);
        File.WriteAllText(_folder["music/a file"], "");
    }

    private FolderBrowser Browser => NewBrowser(_folder["music"]);

    public void Dispose() => _folder.Dispose();

    [Fact]
    public void Browsing_starts_at_the_allowed_folders()
    {
        foreach (var place in new[] { null, "", "  " })
        {
            var listing = Browser.List(place);
            Assert.Equal((null, null), (listing.Path, listing.Refusal));
            Assert.Equal([(_folder["music"], null)], listing.Folders.Select(folder => (folder.Path, folder.Refusal)));
        }
    }

    [Fact]
    public void A_folder_lists_what_is_in_it_and_says_why_some_cannot_be_opened()
    {
        var listing = Browser.List(_folder["music"]);
        Assert.Equal(["leads in", "leads out", "Tin Orchard"], listing.Folders.Select(folder => folder.Name));
        Assert.Equal([true, false, true], listing.Folders.Select(folder => folder.Refusal is null));
        Assert.StartsWith($"{_folder["elsewhere"]} is not below", listing.Folders[1].Refusal, StringComparison.Ordinal);
        Assert.Equal([_folder["music"]], listing.Parts.Select(part => part.Name));
        var inner = Browser.List(_folder["music/Tin Orchard/Carts"]);
        Assert.Equal([_folder["music"], "Tin Orchard", "Carts"], inner.Parts.Select(part => part.Name));
        Assert.Empty(inner.Folders);
    }

    [Fact]
    public void Files_are_listed_where_one_is_wanted()
    {
        foreach (var name in (string[])[
            "music/Tin Orchard/two.mp3", "music/Tin Orchard/One.flac", "music/Tin Orchard/.three.flac", "music/Tin Orchard/notes.txt"
        ])
            File.WriteAllText(_folder[name], "");
        foreach (var place in (string[])["music/Tin Orchard", "music/Tin Orchard/One.flac", "music/Tin Orchard/not there.flac"])
        {
            var listing = Browser.List(_folder[place], FileScanner.LooksLikeSound);
            Assert.Equal(["Carts"], listing.Folders.Select(folder => folder.Name));
            Assert.Equal(["One.flac", "two.mp3"], listing.Files.Select(file => file.Name));
        }

        Assert.Empty(Browser.List(_folder["music/Tin Orchard"]).Files);
        // A link that leads out of the allowed folders shows nothing of what is there.
        File.WriteAllText(_folder["elsewhere/secret.flac"], "");
        Assert.Empty(Browser.List(_folder["music/leads out"], FileScanner.LooksLikeSound).Files);
    }

    /// <summary>A typed folder for new copies need not exist yet.</summary>
    [Theory]
    [InlineData("music/Tin Orchard/New/Album", "music/Tin Orchard")]
    [InlineData("data/converted/Archive", "data/converted")]
    public void A_missing_folder_starts_at_its_parent(string place, string shown)
    {
        var listing = Browser.List(_folder[place]);
        Assert.Equal((_folder[shown], null), (listing.Path, listing.Refusal));
        // The path starts at an allowed folder and never at the root.
        Assert.StartsWith(_folder.Path, listing.Parts[0].Name, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("elsewhere")]
    [InlineData("music/leads out")]
    [InlineData("music/a file")]
    public void A_forbidden_folder_is_refused_with_a_reason(string place)
    {
        var listing = Browser.List(_folder[place]);
        Assert.NotNull(listing.Refusal);
        Assert.Equal((null, 1), (listing.Path, listing.Folders.Count));
        Assert.NotNull(Browser.List("no/absolute/path").Refusal);
        Assert.NotNull(Browser.List("/").Refusal);
    }

    [Fact]
    public void Of_nested_allowed_folders_the_path_starts_at_the_outer()
    {
        var listing = NewBrowser(_folder["music/Tin Orchard"], _folder["music"]).List(_folder["music/Tin Orchard/Carts"]);
        Assert.Equal(_folder["music"], listing.Parts[0].Name);
    }

    [Fact]
    public void Thousands_of_folders_are_cut_with_a_note()
    {
        for (int number = 0; number < 1001; number++)
            Directory.CreateDirectory(_folder[$"music/many/{number}"]);
        var listing = Browser.List(_folder["music/many"]);
        Assert.Equal((1000, true), (listing.Folders.Count, listing.IsCut));
    }

    private FolderBrowser NewBrowser(params string[] allowed)
    {
        var options = new AppOptions { DataFolder = _folder["data"], AllowedBases = allowed, WorkerPath = "" };
        return new FolderBrowser(options, new AllowedPaths(options));
    }
}
