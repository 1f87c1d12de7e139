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
        browser.Leave(() => browser.Click(".menu-above button", "New set"));
        Assert.Equal(["Gangway at Dawn", "Lantern, фонарь, 灯火", "Midsummer in the Old Pit"], Titles());

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

        // Tempo and key, and what follows well.
        browser.Leave(() => browser.Click("#set button", "Analyse 3 tracks"));
        browser.FindText("main", "3 tracks analysed");
        browser.Go("/sets");
        browser.Leave(() => browser.Click("a.row-title", "New set"));
        browser.FindText("[data-item]", "118.0 A flat major");
        browser.Click("#set summary", "Sort");
        browser.Click("#set .menu-items button", "Tempo");
        Becomes("Gangway at Dawn", "Lantern, фонарь, 灯火", "Midsummer in the Old Pit");
        browser.FindText(".set-step", "+1.6 %, a fifth up");
        browser.Click("[data-item] .row-title", "Lantern, фонарь, 灯火");
        browser.FindText(".rail", "What fits after track 2");

        // A tempo of one's own, and back; then what the tags will say.
        browser.Click("[data-tempo='0.5']");
        browser.FindText(".figures .hint", "Measured: 124.0, A minor");
        browser.FindText(".is-place [data-row]", "62.0");
        browser.Script("const field = document.getElementById('own-tempo'); field.value = ''; field.dispatchEvent(new Event('change', { bubbles: true }))");
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
        browser.Script("document.getElementById('set-title').value = 'Underlamp, 20 June'; document.getElementById('set-crossfade').value = '4'");
        browser.Leave(() => browser.Click("#set-details button", "Save"));
        Assert.Equal("Underlamp, 20 June", browser.TextOf("h1"));
        using var client = new HttpClient { BaseAddress = site.Address };
        var list = await client.GetStringAsync(new Uri(browser.FindText(".total-bar a[download]", "M3U8").GetAttribute("href")!));
        Assert.Equal(7, list.Split('\n', StringSplitOptions.RemoveEmptyEntries).Count(line => !line.StartsWith("#PLAYLIST", StringComparison.Ordinal)));
        Assert.Contains("#PLAYLIST:Underlamp, 20 June\n", list, StringComparison.Ordinal);
        Assert.Empty(browser.Complaints());
    }

    private List<string> Titles() => [.. site.Browser.All("[data-item] .row-title").Select(title => title.Text)];

    private void Becomes(params string[] titles) => Testing.Browser.Until(() => Titles().SequenceEqual(titles), string.Join(", ", titles));

    private void FocusOn(string title) => site.Browser.Script("[...document.querySelectorAll('[data-item]')].find((item) => item.textContent.includes(arguments[0])).querySelector('[data-row]').focus()", title);
}
