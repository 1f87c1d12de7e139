using OpenQA.Selenium;
using Wergamon.Testing;

namespace Wergamon.Browser.Tests;

/// <summary>A copy of part of the demo, since its files are written to.</summary>
public sealed class TagSite() : Site(folder => CopyOf(folder["music"]))
{
    private static string CopyOf(string target)
    {
        foreach (var path in new[] { "The Quarry Lamps", "Odalys Fenn - Carbide (2024)" }.SelectMany(part => Directory.GetFiles(Path.Combine(WebServer.DemoMusic, part), "*", SearchOption.AllDirectories)))
        {
            var copy = Path.Combine(target, Path.GetRelativePath(WebServer.DemoMusic, path));
            Directory.CreateDirectory(Path.GetDirectoryName(copy)!);
            File.Copy(path, copy);
        }

        return target;
    }

    public IReadOnlyList<string> Files(string pattern) => [.. Directory.GetFiles(Music, pattern, SearchOption.AllDirectories).Order(StringComparer.Ordinal)];
}

/// <summary>Tags are edited in the browser, written to real files, read by python3-mutagen, and undone.</summary>
public sealed class TagTests(TagSite site) : IClassFixture<TagSite>
{
    [Fact]
    public void Cells_are_typed_reviewed_written_and_undone()
    {
        var browser = site.Browser;
        OpenAlbum("Night Shift at Pit Four");
        var files = site.Files("0*.flac");
        var before = files.Select(File.ReadAllBytes).ToList();
        Choose(0, "title");
        browser.Press("Lamp-out Reel" + Keys.Enter);
        browser.Press("Second Shift" + Keys.Enter);
        Choose(-1, "genre");
        browser.Press("Waltz" + Keys.Enter);
        WaitForCount("8 changes in 6 files");
        // A block as a spreadsheet copies it; the second cell of a line with quotes in it.
        Choose(2, "year");
        Paste("1998\tSlow \"\"lamp\"\"\n1999\tReel");
        WaitForCount("10 changes in 6 files");
        Choose(5, "comment");
        browser.Press(Keys.Delete);
        WaitForCount("11 changes in 6 files");
        browser.Leave(() => browser.Click("[data-review]"));
        Assert.Equal(11, browser.All(".review input:checked").Count);
        browser.Click(".review tr:not(.file-line) input");
        browser.FindText(".sheet-bar strong", "10 changes in 6 files");
        browser.Leave(() => browser.Click(".sheet-bar .btn-main", "Write 6 files"));
        site.WaitForEnd();
        browser.FindText(".verdict", "All 6 files written");
        var read = Mutagen.ReadAny(files[0]);
        // The change that was left out is the genre of the first file.
        Assert.Equal(("Lamp-out Reel", "Dance band", "Waltz"), (Text(read, "title"), Text(read, "genre"), Text(Mutagen.ReadAny(files[1]), "genre")));
        Assert.Equal("1999", Text(Mutagen.ReadAny(files[3]), "date"));
        Assert.Null(Mutagen.ReadAny(files[5])["comment"]);
        Assert.Empty(browser.Complaints());

        browser.Leave(() => browser.Click(".run-actions button", "Undo"));
        site.WaitForEnd();
        browser.FindText(".verdict", "All 6 files undone");
        Assert.Equal(before, files.Select(File.ReadAllBytes));
    }

    private void OpenAlbum(string title)
    {
        var browser = site.Browser;
        browser.Go("/library");
        browser.Leave(() => browser.Click(".album-card", title));
        browser.Leave(() => browser.Click(".pick-bar button", "Edit tags"));
        browser.Find("#grid[data-ready=true]");
    }

    private void Choose(int row, string field)
    {
        int column = (int)(long)site.Browser.Script("return [...document.querySelectorAll('.grid-head .grid-cell')].findIndex((cell) => cell.textContent.toLowerCase() === arguments[0]) - 1", field)!;
        site.Browser.Click($".grid-cell[data-row=\"{row}\"][data-column=\"{column}\"]");
    }

    private void Paste(string text) => site.Browser.Script(
        "const data = new DataTransfer(); data.setData('text/plain', arguments[0]); document.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }))", text);

    private void WaitForCount(string words)
    {
        site.Browser.FindText("#sheet-bar", words);
        site.Browser.Find("#grid[data-saved=true]");
    }

    private static string? Text(System.Text.Json.Nodes.JsonObject read, string name) => read[name]?[0]?.GetValue<string>();
}
