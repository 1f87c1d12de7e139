using OpenQA.Selenium;

namespace Wergamon.Browser.Tests;

/// <summary>Duplicates are found, trashed and restored; copies are separated and joined again.</summary>
public sealed class TidyTests(TidySite site) : IClassFixture<TidySite>
{
    [Fact]
    public void Duplicates_of_the_demo_are_found_tidied_and_restored()
    {
        var browser = site.Browser;
        browser.Go("/library/duplicates");
        browser.FindText("#duplicate-kinds li", "Same sound twice\n1");
        Testing.Browser.Until(
            () => browser.TextOf("#duplicate-kinds") is { Length: > 0 } kinds
                && !kinds.Contains("still to be analysed", StringComparison.Ordinal),
            "all copies to be analysed");
        browser.Go("/library/duplicates?kind=severallossy");
        browser.FindText(".double tr:has(:checked)", "can be made again from the lossless copy");
        browser.Go("/library/duplicates?kind=samename");
        Assert.Empty(browser.All(".double :checked"));
        Testing.Browser.Until(() => Compared(browser), "the two mixes to be compared");
        browser.FindText(".double .why", "quieter");

        browser.Go("/library/duplicates");
        Assert.Equal(
            ["slatebreaker last take.wav", "03 Slatebreaker.flac"],
            browser.Texts(".double tr:has(:checked) .path-cell")
                .Select(cell => Path.GetFileName(cell))
                .Order(StringComparer.Ordinal)
                .Reverse());
        browser.FindText("[data-going]", "2 files ticked, 13.2 MB");
        // All of them: that is refused, and nothing is removed.
        browser.All(".double input").Single(box => !box.Selected).Click();
        browser.FindText("[data-going]", "3 files ticked");
        browser.Leave(() => browser.Click(".pick-bar button", "Review what will go"));
        browser.FindText("[role=alert]", "No file of “Slatebreaker”");
        browser.Leave(() => browser.Click(".pick-bar button", "Review what will go"));
        browser.FindText("h1", "2 files will go, 13.2 MB");
        Assert.Equal(11, Files().Length);
        browser.Leave(() => browser.Click(".pick-bar button", "Move to the trash"));
        browser.FindText("[role=status]", "2 files (13.2 MB) moved to the trash.");
        Assert.Equal(9, Files().Length);
        browser.Go("/library/duplicates");
        browser.FindText("#duplicate-kinds li", "Same sound twice\n0");

        browser.Go("/library/trash");
        browser.FindText("tr", "slatebreaker last take.wav").FindElement(By.TagName("input")).Click();
        browser.Leave(() => browser.Click(".pick-bar button", "Restore"));
        browser.FindText("[role=status]", "1 file restored.");
        Assert.Equal(10, Files().Length);
        browser.Go("/library/tracks?words=slatebreaker");
        browser.FindText("[data-row] .copies", "WAV 16/44.1");
        browser.Click("[data-row] .row-title");
        browser.FindText("#facts .history", "restored from the trash");
        Assert.Empty(browser.Complaints());
    }

    [Fact]
    public void A_copy_is_separated_and_joined_again()
    {
        var browser = site.Browser;
        Testing.Browser.Until(
            () => Open(browser, "tallow") && browser.TextOf("#facts").Contains("same artist, title and length", StringComparison.Ordinal),
            "the copies to be joined");
        browser.Script("document.querySelectorAll('#facts .menu').forEach(menu => menu.open = menu.textContent.includes('Separate'))");
        browser.Leave(() => browser.Click("#facts .menu[open] button", "Separate"));
        browser.FindText("#facts .taken", "Separated from");
        browser.Go("/library/tracks?words=tallow");
        browser.FindText("h1", "2 tracks");
        Assert.True(Open(browser, "tallow", last: true) | true);
        browser.Leave(() => browser.Click("#facts button", "Join again"));
        browser.FindText("#facts .lineage", "joined by you");
        browser.Go("/library/tracks?words=tallow");
        browser.FindText("h1", "1 track");
        Assert.Empty(browser.Complaints());
    }

    private static bool Compared(Testing.Browser browser)
    {
        browser.Go("/library/duplicates?kind=samename");
        return browser.TextOf(".double tr:last-child .why").StartsWith("Against the first", StringComparison.Ordinal);
    }

    private static bool Open(Testing.Browser browser, string words, bool last = false)
    {
        browser.Go("/library/tracks?words=" + words);
        browser.Find("[data-row] .row-title");
        var titles = browser.All("[data-row] .row-title");
        (last ? titles[^1] : titles[0]).Click();
        browser.Find("#facts .lineage");
        return true;
    }

    private string[] Files() => Directory.GetFiles(site.Music, "*", SearchOption.AllDirectories);
}
