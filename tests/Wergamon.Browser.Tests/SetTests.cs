using OpenQA.Selenium;

namespace Wergamon.Browser.Tests;

/// <summary>A set is built from the library, put in order by keys alone and by dragging, and kept as a file.</summary>
public sealed class SetTests(Site site) : IClassFixture<Site>
{
    [Fact]
    public async Task A_set_is_built_by_keys_and_by_dragging()
    {
        var browser = site.Browser;
        browser.Go("/library/tracks?words=underlamp&sort=title");
        browser.FindText(".list-rows [data-row]", "Gangway at Dawn");
        browser.Press("jx" + "jx" + "jx");
        browser.FindText(".pick-count", "3 tracks picked");
        browser.Click(".list-form summary", "Add to set");
        browser.Leave(() => browser.Click(".menu-above button[formaction='/sets?handler=New']"));
        Assert.Equal(["Gangway at Dawn", "Lantern, фонарь, 灯火", "Midsummer in the Old Pit"], Titles());
        var set = new Uri(browser.Address).AbsolutePath;

        // By keys: the last goes up, comes out, and comes back.
        FocusOn("Midsummer in the Old Pit");
        browser.Press(Keys.ArrowUp + Keys.ArrowUp, Keys.Alt);
        Becomes("Midsummer in the Old Pit", "Gangway at Dawn", "Lantern, фонарь, 灯火");
        FocusOn("Gangway at Dawn");
        browser.Press(Keys.Delete);
        Becomes("Midsummer in the Old Pit", "Lantern, фонарь, 灯火");
        browser.Press("z", Keys.Control);
        Becomes("Midsummer in the Old Pit", "Gangway at Dawn", "Lantern, фонарь, 灯火");

        // By dragging: the first behind the last.
        browser.Script(
            """
            const data = new DataTransfer();
            const rows = [...document.querySelectorAll('[data-item] [data-row]')];
            const last = rows.at(-1), at = last.getBoundingClientRect();
            rows[0].dispatchEvent(new DragEvent('dragstart', { dataTransfer: data, bubbles: true }));
            const place = { dataTransfer: data, bubbles: true, cancelable: true, clientX: at.left + 50, clientY: at.bottom - 2 };
            last.dispatchEvent(new DragEvent('dragover', place));
            last.dispatchEvent(new DragEvent('drop', place));
            """);
        Becomes("Gangway at Dawn", "Lantern, фонарь, 灯火", "Midsummer in the Old Pit");
        // The same with a finger, and back.
        browser.DragByTouch(browser.All("[data-item] .col-drag")[0], browser.All("[data-item] [data-row]")[^1]);
        Becomes("Lantern, фонарь, 灯火", "Midsummer in the Old Pit", "Gangway at Dawn");
        browser.DragByTouch(browser.All("[data-item] .col-drag")[1], browser.All("[data-item] [data-row]")[^1]);
        Becomes("Lantern, фонарь, 灯火", "Gangway at Dawn", "Midsummer in the Old Pit");
        browser.Press("z", Keys.Control);
        Becomes("Lantern, фонарь, 灯火", "Midsummer in the Old Pit", "Gangway at Dawn");
        browser.Press("z", Keys.Control);
        Becomes("Gangway at Dawn", "Lantern, фонарь, 灯火", "Midsummer in the Old Pit");

        // Tempo and key, and what follows well.
        browser.Leave(() => browser.Click("#set button", "Analyse 3 tracks"));
        browser.FindText("main", "3 tracks analysed");
        browser.Go(set);
        browser.FindText("[data-item]", "118.0 A flat major");
        browser.Click("#set summary", "Sort");
        browser.Click("#set .menu-items button", "Tempo");
        Becomes("Gangway at Dawn", "Lantern, фонарь, 灯火", "Midsummer in the Old Pit");
        browser.FindText(".set-step", "+1.6 %, a fifth up");
        browser.Click("[data-item] .row-title", "Lantern, фонарь, 灯火");
        browser.FindText(".rail", "Suggestions after track 2");

        // A tempo of one's own, and back; then what the tags will say.
        browser.Click("[data-tempo='0.5']");
        browser.FindText(".figures .hint", "Tags or analysis: 124.0, A minor");
        browser.FindText(".is-place [data-row]", "62.0");
        browser.Change("#own-tempo", "");
        browser.FindText(".is-place [data-row]", "124.0");
        browser.Script("document.getElementById('own-tempo').value = '61'");
        browser.Click("[data-tap]");
        browser.Click("[data-tap]");
        Testing.Browser.Until(() => browser.Find("#own-tempo").GetAttribute("value") != "61", "a tapped tempo");
        browser.Click("#set button", "Write to tags");
        browser.Script("document.getElementById('spelling').value = 'Flats'");
        browser.Leave(() => browser.Click("#set-tags button", "Review changes"));
        browser.FindText("main", "Am");
        browser.Script("history.back()");
        browser.Find("#set [data-item]");

        browser.Click("#set button", "Details");
        browser.Script(
            "document.getElementById('set-title').value = 'Underlamp, 20 June'; document.getElementById('set-crossfade').value = '4'");
        browser.Leave(() => browser.Click("#set-details button", "Save"));
        Assert.Equal("Underlamp, 20 June", browser.TextOf("h1"));
        using var client = new HttpClient { BaseAddress = site.Address };
        var list = await client.GetStringAsync(new Uri(browser.FindText(".total-bar a[download]", "M3U8").GetAttribute("href")!));
        Assert.Equal(
            7,
            list.Split('\n', StringSplitOptions.RemoveEmptyEntries).Count(line => !line.StartsWith("#PLAYLIST", StringComparison.Ordinal)));
        Assert.Contains("#PLAYLIST:Underlamp, 20 June\n", list, StringComparison.Ordinal);

        // The file, read back, is the same set under a name that is free.
        using var folder = new Testing.TemporaryFolder();
        await File.WriteAllTextAsync(folder["list.m3u8"], list);
        browser.Go("/sets");
        browser.Click("[data-open=new-import]");
        browser.Find("#playlist").SendKeys(folder["list.m3u8"]);
        browser.Leave(() => browser.Click("button", "Import as set"));
        Assert.Equal("Underlamp, 20 June (2)", browser.TextOf("h1"));
        Assert.Equal(["Gangway at Dawn", "Lantern, фонарь, 灯火", "Midsummer in the Old Pit"], Titles());
        Assert.Empty(browser.Complaints());
    }

    /// <summary>Rating, energy, comment and marks while listening; then the beat, looked at closely.</summary>
    [Fact]
    public async Task Tracks_are_rated_and_marked_by_keys()
    {
        var browser = site.Browser;
        browser.Go("/library/tracks?words=underlamp&sort=title&down=1");
        browser.FindText(".list-rows [data-row]", "Shotfirer");
        browser.Press("jxjx");
        browser.Click(".list-form summary", "Add to set");
        browser.Leave(() => browser.Click(".menu-above button[formaction='/sets?handler=New']"));
        browser.Leave(() => browser.Click("#set button", "Analyse"));
        browser.FindText("main", "2 tracks analysed");
        browser.Script("history.back()");
        FocusOn("Shotfirer");
        browser.Press("4");
        browser.FindText("[data-item]", "4 of 5");
        browser.Press("2", Keys.Shift);
        Testing.Browser.Until(() => Row("Shotfirer").FindElements(By.CssSelector("[aria-label='2 of 5']")).Count == 1, "an energy of 2");
        browser.Press("c");
        browser.Find("#track-comment[open] input");
        browser.Press("long ending" + Keys.Enter);
        browser.FindText("[data-item]", "long ending");

        // What plays is meant, wherever the focus is.
        browser.Press(" ");
        Testing.Browser.Until(
            () => browser.Script("return document.getElementById('player-sound').currentTime > 3") is true, "three seconds of sound");
        browser.Press("k" + "m");
        Testing.Browser.Until(
            () => Row("Shotfirer").FindElement(By.CssSelector("[data-row]")).GetAttribute("data-marks") is { Length: > 0 }, "a mark");
        browser.Press("t");
        Testing.Browser.Until(
            () =>
                browser.Script(
                    "const sound = document.getElementById('player-sound'); return sound.currentTime > sound.duration - 11 || "
                        + "document.getElementById('player-title').textContent !== 'Shotfirer'") is true,
            "the last seconds");
        browser.Click("#player-close");

        browser.Click("[data-item] .row-title", "Shotfirer");
        browser.Leave(() => browser.Click(".rail a", "Beat and marks"));
        browser.Find("[data-beat-canvas][data-there]");
        Assert.Equal("Shotfirer", browser.TextOf("h1"));
        browser.Click("[data-beat-do=Propose]");
        browser.Find("input[value='First beat']");
        var measured = browser.Find("#beats").GetAttribute("data-grid");
        browser.Click("[data-beat-do=Beat]", "+5 ms");
        browser.FindText("button", "As measured");
        Assert.NotEqual(measured, browser.Find("#beats").GetAttribute("data-grid"));
        browser.Click("[data-beat-do=Beat]", "As measured");
        Testing.Browser.Until(() => browser.Find("#beats").GetAttribute("data-grid") == measured, "the measured grid");
        // By keys: two beats on, a mark there, and its name.
        int marks = browser.All(".mark-place").Count;
        browser.Script("document.querySelector('[data-beat-view]').focus()");
        browser.Press(Keys.Home + Keys.ArrowRight + Keys.ArrowRight + "m");
        Testing.Browser.Until(() => browser.All(".mark-place").Count == marks + 1, "one mark more");
        browser.Change(".mark-rows tr:has(.mark-place[value='0:00.94']) [name=title]", "two beats on");
        Testing.Browser.Until(
            () => browser.Find("#beats").GetAttribute("data-marks")!.Contains("two beats on", StringComparison.Ordinal), "a name");
        browser.Change(".mark-place", "soon");
        browser.FindText("[role=alert]", "Type the time of a mark");

        browser.Leave(() => browser.Click(".rail-title a"));
        using var client = new HttpClient { BaseAddress = site.Address };
        var list = await client.GetStringAsync(new Uri(browser.FindText(".total-bar a[download]", "XSPF").GetAttribute("href")!));
        Assert.Contains("title=\"two beats on\"", list, StringComparison.Ordinal);
        Assert.Empty(browser.Complaints());
    }

    private IWebElement Row(string title) => site.Browser.FindText("[data-item]", title);

    private List<string> Titles() => [.. site.Browser.Texts("[data-item] .row-title")];

    private void Becomes(params string[] titles) => Testing.Browser.Until(() => Titles().SequenceEqual(titles), string.Join(", ", titles));

    private void FocusOn(string title) =>
        site.Browser.Script(
            "[...document.querySelectorAll('[data-item]')].find((item) => "
                + "item.textContent.includes(arguments[0])).querySelector('[data-row]').focus()",
            title);
}
