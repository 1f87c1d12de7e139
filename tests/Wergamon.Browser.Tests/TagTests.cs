using OpenQA.Selenium;
using Wergamon.Testing.Outside;

namespace Wergamon.Browser.Tests;

/// <summary>Tags are edited in the browser, written to real files, read by python3-mutagen, and undone.</summary>
public sealed class TagTests(TagSite site) : IClassFixture<TagSite>
{
    [Fact]
    public void Cells_are_typed_reviewed_written_and_undone()
    {
        var browser = site.Browser;
        OpenSheet("Night Shift at Pit Four");
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
        Assert.Equal(
            ("Lamp-out Reel", "Dance band", "Waltz"), (Text(read, "title"), Text(read, "genre"), Text(Mutagen.ReadAny(files[1]), "genre")));
        Assert.Equal("1999", Text(Mutagen.ReadAny(files[3]), "date"));
        Assert.Null(Mutagen.ReadAny(files[5])["comment"]);
        Assert.Empty(browser.Complaints());

        // One file alone, then the rest.
        var report = new Uri(browser.Address).AbsolutePath;
        browser.Leave(() => browser.Click(".run-rows form button", "Undo"));
        site.WaitForEnd();
        browser.FindText(".verdict", "1 file undone");
        Assert.Equal(before[0], File.ReadAllBytes(files[0]));
        browser.Go(report);
        Assert.Equal(5, browser.All(".run-rows form button").Count);
        browser.Leave(() => browser.Click(".run-actions button", "Undo"));
        site.WaitForEnd();
        browser.FindText(".verdict", "All 5 files undone");
        Assert.Equal(before, files.Select(File.ReadAllBytes));
    }

    /// <summary>Untagged files get the tags that their names say, and a cover that is dropped on the page.</summary>
    [Fact]
    public void Tags_come_from_names_and_a_cover_by_drop()
    {
        var browser = site.Browser;
        OpenSheet("Carbide");
        browser.Leave(() => browser.Click(".tab-line a", "From names"));
        browser.FindText(".pattern-line", "fits 5 of 5");
        Assert.Equal("{album artist} - {album} ({year})/{track} {title}", browser.Find("#pattern").GetDomProperty("value"));
        // The year becomes fixed text by key, and a piece again by its own pattern.
        browser.Script("document.querySelectorAll('.piece')[2].focus()");
        browser.Press(Keys.Delete);
        Testing.Browser.Until(
            () => browser.Find("#pattern").GetDomProperty("value") == "{album artist} - {album} (2024)/{track} {title}",
            "the year to be fixed text");
        Testing.Browser.Until(
            () =>
                browser.Script(
                    "return document.querySelectorAll('.piece').length === 4 && document.body.dataset.piece === undefined") as bool?,
            "the page to follow");
        // The border of the album moves by a letter and back.
        browser.Script("document.querySelectorAll('.piece')[1].focus()");
        browser.Press(Keys.Left);
        Testing.Browser.Until(
            () => browser.Find("#pattern").GetDomProperty("value") == "{album artist} - {album}e (2024)/{track} {title}",
            "the border to move");
        browser.Leave(() => browser.Click(".also a", "{album artist} - {album} ({year})/{track} {title}"));
        browser.FindText("td.new", "Seam of Light");
        browser.Leave(() => browser.Click(".sheet-bar .btn-main", "Take 25 changes"));
        Assert.Equal(25, browser.All(".review input:checked").Count);

        browser.Leave(() => browser.Click(".tab-line a", "Artwork"));
        browser.FindText("td", "cover.jpg");
        browser.Script("document.getElementById('catalogue-words').value = 'nine gate single'");
        browser.Leave(() => browser.Click("button", "Look up covers"));
        browser.FindText("#catalogue-covers button", "Nine Gate Crossing, the Single");
        browser.Script("document.getElementById('catalogue-words').value = 'nobody knows this'");
        browser.Leave(() => browser.Click("button", "Look up covers"));
        browser.FindText("[role=alert]", "The catalogue has no cover for these words.");
        browser.Leave(() => browser.Script(
            """
            const data = new DataTransfer();
            data.items.add(new File([Uint8Array.from(atob(arguments[0]), (letter) => letter.charCodeAt(0))], 'dropped.png',
                { type: 'image/png' }));
            document.querySelector('[data-drop]').dispatchEvent(new DragEvent('drop',
                { dataTransfer: data, bubbles: true, cancelable: true }));
            """, OnePixel));
        browser.FindText(".picture-card", "in all 5 files");
        browser.Leave(() => browser.Click("[data-review]"));
        browser.Leave(() => browser.Click(".sheet-bar .btn-main", "Write 5 files"));
        site.WaitForEnd();
        var wav = site.Files("02 Seam of Light.wav")[0];
        var read = Mutagen.ReadAny(wav);
        Assert.Equal(("Seam of Light", "Carbide", "2"), (Text(read, "title"), Text(read, "album"), Text(read, "tracknumber")));
        Assert.Equal(
            System.Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(System.Convert.FromBase64String(OnePixel))),
            Text(read, "pictures"));

        // Names from tags, in folders; the files move, and undo moves them back.
        OpenSheet("Carbide");
        browser.Go(new Uri(browser.Address).AbsolutePath + "/names?way=to");
        browser.Change("#pattern", "{album artist}/{year} {album}/{track:00}. {title}");
        browser.FindText("td.new", "Odalys Fenn/2024 Carbide/02. Seam of Light.wav");
        browser.Leave(() => browser.Click(".sheet-bar .btn-main", "Take 5 new names"));
        browser.Leave(() => browser.Click(".sheet-bar .btn-main", "Write 5 files"));
        site.WaitForEnd();
        Assert.True(File.Exists(Path.Combine(site.Music, "Odalys Fenn", "2024 Carbide", "02. Seam of Light.wav")));
        browser.Leave(() => browser.Click(".run-actions button", "Undo"));
        site.WaitForEnd();
        Assert.True(File.Exists(wav));
        Assert.Empty(browser.Complaints());
    }

    /// <summary>Genres become those of the person's own list, which learns what was chosen.</summary>
    [Fact]
    public void Genres_follow_the_persons_own_list()
    {
        var browser = site.Browser;
        OpenSheet("Night Shift at Pit Four");
        var page = new Uri(browser.Address).AbsolutePath + "/tidy?rule=genres";
        browser.Go(page);
        browser.Script("document.querySelector('[name=list]').value = 'Ballad\\nClub: House'");
        browser.Leave(() => browser.Click("button", "Save list"));
        browser.FindText(".lead", "Nothing to do here");
        browser.Script(
            "const all = document.querySelectorAll('[name=Becomes]'); for (const s of all) s.value = 'Ballad'; all[0].dispatchEvent(new "
                + "Event('change', { bubbles: true }))");
        browser.FindText(".sheet-bar strong", "6 changes");
        browser.Leave(() => browser.Click(".sheet-bar .btn-main", "Apply ticked changes"));
        browser.FindText(".sheet-bar strong", "6 changes in 6 files");
        browser.Go(page);
        browser.FindText(".sheet-bar strong", "Nothing to do");
        Assert.StartsWith(
            "Ballad: ", (string)browser.Script("return document.querySelector('[name=list]').value")!, StringComparison.Ordinal);
        Assert.Empty(browser.Complaints());
    }

    /// <summary>A picture of one pixel.</summary>
    private const string OnePixel = "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==";

    [Fact]
    public void Rules_tidy_with_a_preview_and_the_comment_is_filled_by_keys()
    {
        var browser = site.Browser;
        OpenSheet("Night Shift at Pit Four");
        browser.Leave(() => browser.Click(".tab-line a", "Tidy"));
        browser.Leave(() => browser.Click(".tidy-rules a", "Capitals"));
        browser.Click("label", "First word only");
        browser.FindText("td.new", "Tallow and wick");
        browser.Leave(() => browser.Click(".sheet-bar .btn-main", "Apply ticked changes"));
        browser.FindText("td.new", "Tallow and wick");
        browser.Leave(() => browser.Click(".tab-line a", "Comment"));
        browser.Script("document.querySelectorAll('.comment-rows [data-row]')[1].focus()");
        browser.Press("4");
        browser.FindText("td.new", "energy 4 | Recorded in Lantern Quarry");
        browser.Press("v");
        browser.FindText("td.new", "energy 4, vocal | Recorded in Lantern Quarry");
        browser.Leave(() => browser.Click(".tab-line a", "Lyrics"));
        browser.Find("#lyrics").SendKeys("First line\nSecond line");
        browser.Leave(() => browser.Click(".lyrics-form > .btn", "Add to review"));
        browser.FindText(".lyrics-files", "2 lines");
        browser.Find("#lyrics").Clear();
        browser.Find("#lyrics").SendKeys("[0:05] First line\n[0:09.5] Second line");
        browser.Leave(() => browser.Click(".lyrics-form > .btn", "Add to review"));
        browser.FindText(".lyrics-files", "2 lines, timed");
        Assert.Equal("[00:05.00]First line\n[00:09.50]Second line", browser.Find("#lyrics").GetDomProperty("value"));
        browser.Script("document.querySelector('.sheet-bar [data-ask]').removeAttribute('data-ask')");
        browser.Leave(() => browser.Click(".sheet-bar .btn-plain", "Discard"));
        browser.FindText("#sheet-bar", "No changes");
        Assert.Empty(browser.Complaints());
    }

    private void OpenSheet(string title)
    {
        var browser = site.Browser;
        site.OpenAlbum(title);
        browser.Leave(() => browser.Click(".pick-bar button", "Edit tags"));
        browser.Find("#grid[data-ready=true]");
    }

    private void Choose(int row, string field)
    {
        int column = (int)(long)site.Browser.Script(
            "return [...document.querySelectorAll('.grid-head .grid-cell')].findIndex((cell) => cell.textContent.toLowerCase() === "
                + "arguments[0]) - 1",
            field)!;
        site.Browser.Click($".grid-cell[data-row=\"{row}\"][data-column=\"{column}\"]");
    }

    private void Paste(string text) => site.Browser.Script(
        "const data = new DataTransfer(); data.setData('text/plain', arguments[0]); document.dispatchEvent(new ClipboardEvent('paste', { "
            + "clipboardData: data, bubbles: true, cancelable: true }))",
        text);

    private void WaitForCount(string words)
    {
        site.Browser.FindText("#sheet-bar", words);
        site.Browser.Find("#grid[data-saved=true]");
    }

    private static string? Text(System.Text.Json.Nodes.JsonObject read, string name) => read[name]?[0]?.GetValue<string>();
}
