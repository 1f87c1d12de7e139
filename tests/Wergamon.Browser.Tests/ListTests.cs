using System.Globalization;
using OpenQA.Selenium;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Iff;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Id3v2;
using Wergamon.Testing;

namespace Wergamon.Browser.Tests;

/// <summary>A folder is added; its tracks are found, sorted, filtered and picked in a list longer than the browser holds.</summary>
public sealed class ListTests(Site site) : IClassFixture<Site>
{
    private const int Files = 950;

    [Fact]
    public void A_long_list_is_scrolled_picked_and_searched()
    {
        var browser = site.Browser;
        var folder = MakeFiles(site.Folder("adits"));
        browser.Go("/library/folders");
        browser.Find("#path").SendKeys(folder);
        browser.Leave(() => browser.Click(".add-folder button", "Add folder"));
        browser.FindText("#folders tr", $"{folder} {Files}");
        browser.FindText("#folders tr", $"All read, {Files} added in the last 24 hours");

        browser.Go("/library/tracks?words=ostler&sort=title");
        Assert.Equal($"{Files} tracks", browser.TextOf("h1"));
        Assert.Equal(["Adit 1", "Adit 2", "Adit 3"], browser.Texts(".list-rows [data-row] .row-title").Take(3));
        Scroll(1);
        var last = browser.FindText("[data-row]", $"Adit {Files}");
        last.FindElement(By.CssSelector("[data-pick]")).Click();
        browser.FindText(".pick-count", "1 track picked");
        Testing.Browser.Until(() => browser.All("tbody[data-offset='0'] [data-row]").Count == 0, "the first rows to go");
        Assert.InRange(browser.All("[data-row]").Count, 1, 800);
        Scroll(0);
        var second = browser.FindText("[data-row]", "Adit 2").FindElement(By.CssSelector("[data-pick]"));
        browser.Click(second, Keys.Shift);
        browser.FindText(".pick-count", $"{Files - 1} tracks picked");

        // Picks survive another list; typing searches at once.
        browser.Script(
            "const find = document.getElementById('find'); find.value = 'adit 12'; find.dispatchEvent(new Event('input', { bubbles: true "
                + "}))");
        browser.FindText("h1", "11 tracks");
        browser.FindText(".pick-count", $"{Files - 1} tracks picked");
        browser.Go("/library/tracks?words=ADIT+7");
        browser.FindText(".pick-count", $"{Files - 1} tracks picked");
        browser.Leave(() => browser.Click(".list-form button", $"Convert {Files - 1} tracks"));
        browser.FindText(".total-bar", $"Convert {Files - 1} tracks");

        // All of them on a sheet: few cells are in the page, and one value goes to every file.
        browser.Go("/library/tracks?words=ostler&sort=title");
        browser.Click("[data-pick-list]");
        browser.FindText(".pick-count", $"{Files} tracks picked");
        browser.Leave(() => browser.Click(".list-form button", "Edit tags"));
        browser.Find("#grid[data-ready=true]");
        long column = (long)browser.Script(
            "return [...document.querySelectorAll('.grid-head .grid-cell')].findIndex((cell) => cell.textContent.toLowerCase() === "
                + "'genre') - 1")!;
        browser.Click($".grid-cell[data-row=\"-1\"][data-column=\"{column}\"]");
        browser.Press("Waltz" + Keys.Enter);
        browser.FindText("#sheet-bar", $"{Files} changes in {Files} files");
        Assert.InRange(browser.All("#grid .grid-cell").Count, 50, 2_000);

        File.Delete(Path.Combine(folder, "Adit 7.wav"));
        File.Delete(Path.Combine(folder, "Adit 70.wav"));
        browser.Go("/library/folders");
        browser.FindText("#folders tr", "2 missing");
        browser.Script("window.confirm = () => true");
        browser.Leave(() => browser.Click("#folders button", "Forget missing"));
        browser.FindText("#folders tr", $"{folder} {Files - 2}");
        browser.Script("window.confirm = () => true");
        browser.Leave(
            () =>
                browser.FindText("#folders tr", folder)
                    .FindElements(By.TagName("button"))
                    .First(button => button.Text == "Remove")
                    .Click());
        browser.Go("/library/tracks?words=ostler");
        browser.FindText("h1", "Nothing found");
        Assert.Equal(Files - 2, Directory.GetFiles(folder).Length);
        Assert.Empty(browser.Complaints());
    }

    [Fact]
    public void Filters_columns_and_order_live_in_the_address()
    {
        var browser = site.Browser;
        browser.Go("/library/tracks");
        browser.Leave(() => browser.Click(".chip", "lossy only"));
        Assert.Equal("5 tracks", browser.TextOf("h1"));
        Assert.EndsWith("/library/tracks?show=lossy-only", browser.Address, StringComparison.Ordinal);
        browser.Leave(() => browser.Click("th a", "Length"));
        browser.Leave(() => browser.Click("th a", "Length"));
        Assert.EndsWith("?show=lossy-only&sort=length&down=1", browser.Address, StringComparison.Ordinal);
        browser.Find("th[aria-sort=descending]");
        var lengths = browser.Texts("[data-row] :nth-child(1 of .digits)");
        Assert.Equal(lengths.OrderDescending(), lengths);
        browser.Click(".columns-choice summary");
        browser.Click(".columns-choice [value=Path]");
        browser.Leave(() => browser.Click(".columns-choice button", "Show these"));
        Assert.EndsWith("?show=lossy-only&sort=length&down=1", browser.Address, StringComparison.Ordinal);
        browser.FindText("th", "Path");
        browser.FindText("[data-row]", ".mp3");
        browser.Go("/library/tracks/folders");
        browser.Leave(() => browser.Click(".folder-rail a", "demo-music"));
        browser.Leave(() => browser.Click(".folder-rail a", "Nine Gate Ensemble"));
        browser.FindText(".list-head .sub", "5 tracks");
        browser.Click(".row-title", "Dripstone");
        browser.FindText("#facts .lineage", "imported unchanged");
        Assert.Empty(browser.Complaints());
    }

    private void Scroll(double where) =>
        site.Browser.Script(
            "const sheet = document.querySelector('.list-sheet'); sheet.scrollTop = sheet.scrollHeight * arguments[0]", where);

    private static string MakeFiles(string folder)
    {
        Directory.CreateDirectory(folder);
        var format = new PcmFormat(SampleRate.AudioDisc, 2, 16);
        for (int i = 1; i <= Files; i++)
        {
            var tags = new TagSet();
            tags.Set(FieldNames.Title, "Adit " + i.ToString(CultureInfo.InvariantCulture));
            tags.Set(FieldNames.Artist, "Ostler");
            tags.Set(FieldNames.Album, "Adits");
            using var writer = new WavWriter(
                File.Create(Path.Combine(folder, $"Adit {i}.wav")), format, tail: [new TailChunk("id3 ", Id3v2Writer.Write(tags))]);
            TestSound.Noise(format, 441, seed: i).CopyTo(writer);
        }

        return folder;
    }
}
