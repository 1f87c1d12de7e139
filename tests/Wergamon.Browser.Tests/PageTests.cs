using System.Globalization;
using System.Net;
using OpenQA.Selenium;

namespace Wergamon.Browser.Tests;

/// <summary>What holds for every page: keys, a clean console, accessibility.</summary>
public sealed class PageTests(Site site) : IClassFixture<Site>
{
    private static readonly string Axe = File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "lib", "axe.min.js"));

    [Fact]
    public void Every_page_is_accessible_and_without_complaints()
    {
        var browser = site.Browser;
        site.PlanAlbum("Songs from the Winding House", site.Folder("pages"));
        site.ChooseTarget("Pocket player");
        var plan = new Uri(browser.Address).AbsolutePath;
        site.StartRun();
        site.WaitForEnd();
        var run = new Uri(browser.Address).AbsolutePath;
        browser.Go("/intake/discs?drive=A");
        browser.Leave(() => browser.Click(".rack-disc", "Sampler"));
        browser.Find("[data-open=candidates]");
        browser.Go("/intake/discs?drive=B");
        browser.Leave(() => browser.Click(".rack-disc", "Nine Gates"));
        browser.FindText("#disc-title", "Nine Gates");
        site.PlanAlbum("Carbide", site.Folder("pages-2"));
        var convert = new Uri(browser.Address).AbsolutePath;
        site.PlanAlbum("Carbide", site.Folder("pages-3"));
        browser.Leave(() => browser.Click(".total-bar button", "Keep as a mirror"));
        var mirror = new Uri(browser.Address).AbsolutePath;
        browser.Go("/library?album=2");
        browser.Click(".pick-bar summary", "Add to set");
        browser.Leave(() => browser.Click(".menu-above button", "New set"));
        browser.Click("[data-item] .row-title", "");
        browser.Find(".is-place");
        var set = new Uri(browser.Address).AbsolutePath;
        browser.Go("/library?album=2");
        browser.Click(".pick-bar summary", "Deliver");
        browser.Leave(() => browser.Click(".menu-above button", "Data disc"));
        var data = new Uri(browser.Address).AbsolutePath;
        browser.Go("/library?album=2");
        browser.Click(".pick-bar summary", "Deliver");
        browser.Leave(() => browser.Click(".menu-above button", "Joined file"));
        var joined = new Uri(browser.Address).AbsolutePath;
        browser.Go("/library?album=2");
        browser.Click(".pick-bar summary", "Deliver");
        browser.Leave(() => browser.Click(".menu-above button", "Audio disc"));
        browser.Click("[data-item] .row-title", "");
        browser.Find("#track-title");
        var disc = new Uri(browser.Address).AbsolutePath;
        browser.Go("/library?album=2");
        browser.Click(".pick-bar summary", "Deliver");
        browser.Leave(() => browser.Click(".menu-above button", "Download converted"));
        var zip = new Uri(browser.Address).AbsolutePath;
        browser.Go("/deliver");
        browser.Click("button", "Add a stick");
        browser.Script(
            $"document.getElementById('stick-folder').value = '{Directory.CreateDirectory(site.Folder("pages-stick")).FullName}'");
        browser.Leave(() => browser.Click("#new-stick .btn-main", "Add stick"));
        var stick = new Uri(browser.Address).AbsolutePath;
        browser.Go("/library?album=2");
        browser.Click(".pick-bar summary", "Deliver");
        browser.Leave(() => browser.Click(".menu-above button", "Stick “pages-stick”"));
        browser.FindText(".stick-state", "add");
        browser.Go("/library?album=2");
        browser.Leave(() => browser.Click(".pick-bar button", "Edit tags"));
        browser.Find("#grid[data-ready=true]");
        var sheet = new Uri(browser.Address).AbsolutePath;
        browser.Click(".grid-cell[data-row=\"0\"][data-column=\"0\"]");
        browser.Press("5" + Keys.Enter);
        browser.Find("#grid[data-saved=true]");
        browser.Go("/bench/compare?words=tallow");
        browser.Leave(() => browser.Click(".bench-copies a", "FLAC"));
        browser.Leave(() => browser.Click(".bench-copies button", "MP3 192"));
        browser.Find("#verdict");
        var bench = new Uri(browser.Address).AbsolutePath;
        string[] pages =
        [
            "/library", "/library?album=2&track=8", "/library/folders", "/library/tracks?words=gate", "/library/tracks?words=zzzz",
            "/library/tracks/folders", "/library/duplicates", "/library/duplicates?kind=samename", "/library/trash", "/intake/files",
            "/convert", convert, plan, run, "/convert/targets/car", "/convert/folders", mirror, "/runs",
            "/intake/discs?drive=A", "/intake/discs?drive=B", "/intake/discs?drive=A&edit=true", "/intake",
            "/tags", sheet, sheet + "/names", sheet + "/names?way=to",
            sheet + "/names?pattern=%7Bno", sheet + "/tidy?rule=capitals", sheet + "/tidy?rule=spellings", sheet + "/artwork",
            sheet + "/comment", sheet + "/lyrics", sheet + "/review", "/bench", "/bench/compare",
            "/bench/compare?first=8", "/bench/passes", "/bench/passes?copy=8",
            "/bench/findings", "/bench/findings?copy=8", bench, "/sets", set, "/sets/tracks/8", "/deliver",
            "/deliver/new?kind=Audio", "/deliver/new?kind=Stick", data, joined, zip, stick,
            stick.Replace("stick", "deck", StringComparison.Ordinal), "/deliver/devices/car-radio", disc, disc + "/print",
        ];
        browser.Complaints();
        foreach (var page in pages)
        {
            browser.Go(page);
            browser.Find("main h1");
            AssertNothingShutsOut(page);
            var complaints = browser.Complaints();
            Assert.True(complaints is [], $"{page}: {string.Join('\n', complaints)}");
        }

        browser.Go("/intake/discs?drive=A");
        browser.Click("[data-open=candidates]");
        browser.FindText("#candidates", "Which album is it?");
        AssertNothingShutsOut("candidates for a disc");
        browser.Press(Keys.Escape);
        browser.Click("#run-pill");
        browser.FindText("#run-drawer", "Songs from the Winding House");
        AssertNothingShutsOut("run drawer");
        browser.Press(Keys.Escape);
        browser.Press("?");
        browser.FindText("#key-list", "find music");
        AssertNothingShutsOut("list of keys");
        Assert.Empty(browser.Complaints());
    }

    /// <summary>WCAG 2.1, success criterion 2.1.4.</summary>
    [Fact]
    public void Keys_of_a_single_character_can_be_switched_off()
    {
        var browser = site.Browser;
        browser.Go("/library");
        browser.Click(".theme-menu summary");
        browser.Click("[data-open=key-list]");
        browser.Click("#single-keys");
        browser.Press(Keys.Escape);
        browser.Press("?");
        browser.Press("/");
        Assert.Equal(true, browser.Script("return !document.getElementById('key-list').open && document.activeElement.id !== 'find'"));
        // It is kept, and can be taken back where it was.
        browser.Go("/library");
        browser.Click(".theme-menu summary");
        browser.Click("[data-open=key-list]");
        browser.Click("#single-keys");
        browser.Press(Keys.Escape);
        browser.Press("?");
        browser.FindText("#key-list", "find music");
        browser.Press(Keys.Escape);
    }

    /// <summary>
    /// A part is asked for once at a time, and the last answer is younger than the last message: no page stays behind, and none asks twice.
    /// </summary>
    [Fact]
    public void Part_is_renewed_once_for_several_signals()
    {
        var browser = site.Browser;
        browser.Go("/library/folders");
        browser.Find("#folders");
        // A part of the test's own, so that what really happens does not count.
        browser.Script(
            """
            document.querySelector('main').insertAdjacentHTML('beforeend',
                '<div id="probe" data-renew="/shell?handler=Storage" data-renew-on="probe" hx-swap="innerHTML"></div>');
            window.probe = document.getElementById('probe');
            window.asked = [];
            window.tell = (kind) => document.dispatchEvent(new CustomEvent('told', { detail: { kind } }));
            probe.addEventListener('htmx:beforeRequest', () => asked.push(performance.now()));
            tell('probe');
            tell('probe');
            tell('probe');
            """);
        AssertAsked(2);

        // One that is renewed seldom waits, for the end of a run it does not.
        browser.Script("probe.dataset.renewEvery = '3600'; probe.dataset.renewOn = 'probe ended'; tell('probe'); tell('probe')");
        AssertAsked(2);
        browser.Script("tell('ended')");
        AssertAsked(3);

        // The last renewal comes after the last message.
        browser.Script("probe.dataset.renewEvery = '2'; tell('ended'); tell('probe'); tell('probe')");
        AssertAsked(5);
        Assert.True(browser.Script("return asked[4] - asked[3] >= 1900") is true);

        // What came to its end with the last answer is not asked for again.
        browser.Script(
            "delete probe.dataset.renewEvery; tell('probe'); tell('probe'); window.from = probe.dataset.renew; delete probe.dataset.renew");
        AssertAsked(6);
        browser.Script("probe.dataset.renew = from");

        // In a closed dialog nobody sees it.
        browser.Script("const dialog = document.createElement('dialog'); probe.before(dialog); dialog.append(probe); tell('ended')");
        AssertAsked(6);

        void AssertAsked(int times)
        {
            Testing.Browser.Until(
                () => browser.Script("return arguments[0] <= asked.length && !probe.matches('.htmx-request')", times) is true,
                $"{times} requests");
            Assert.Equal((long)times, browser.Script("return asked.length"));
        }
    }

    [Fact]
    public void All_stations_are_reached_by_keys()
    {
        var browser = site.Browser;
        // Its copies are joined to one track once they are analysed.
        Testing.Browser.Until(
            () =>
            {
                browser.Go("/library/tracks?words=slatebreaker");
                return browser.FindText("h1", "track").Text == "1 track";
            },
            "the copies to be joined");
        browser.Go("/library");
        browser.Find("main h1");
        // After g, only a letter by itself leads away: Ctrl+C still copies.
        Assert.Equal(true, browser.Script(
            """
            const press = (options) => document.body.dispatchEvent(
              new KeyboardEvent("keydown", { bubbles: true, cancelable: true, ...options }));
            press({ key: "g" });
            return press({ key: "c", ctrlKey: true });
            """));
        browser.Press("/");
        Assert.Equal("find", browser.Script("return document.activeElement.id"));
        browser.Press("slatebreaker" + Keys.Enter);
        browser.FindText("h1", "1 track");
        browser.Press("j");
        browser.Press("x");
        browser.FindText(".pick-count", "1 track picked");
        browser.FindText("[data-convert-list]", "Convert 1 track");
        browser.Press(Keys.Enter);
        browser.FindText("#facts h2", "Slatebreaker");
        browser.Leave(() => browser.Press("gs"));
        browser.FindText("h1", "Sets");
        browser.Leave(() => browser.Press("gl"));
        browser.FindText(".stations .is-here", "Library");
        browser.Press("j");
        browser.Press("x");
        browser.Press("j");
        browser.Press("j");
        browser.Press("X");
        browser.FindText(".pick-count", "3 tracks picked");
    }

    [Fact]
    public void A_narrow_screen_does_not_scroll_sideways()
    {
        var browser = site.Browser;
        browser.Resize(390, 844);
        try
        {
            foreach (var page in new[]
            {
                "/library", "/library/folders", "/convert", "/tags", "/intake/discs?drive=A", "/intake/discs?drive=B"
            })
            {
                browser.Go(page);
                browser.Find("main h1");
                Assert.InRange(
                    Convert.ToInt32(browser.Script("return document.documentElement.scrollWidth"), CultureInfo.InvariantCulture), 1, 390);
            }
        }
        finally
        {
            browser.Resize(1280, 800);
        }
    }

    [Fact]
    public void Aiff_plays_in_the_page()
    {
        var browser = site.Browser;
        site.OpenAlbum("Underlamp Club, June");
        browser.Click("[aria-label='Play Overburden']");
        Testing.Browser.Until(() => browser.Script("return document.getElementById('player-sound').currentTime > 0.2") as bool?, "sound");
        Assert.InRange(
            Convert.ToDouble(browser.Script("return document.getElementById('player-sound').duration"), CultureInfo.InvariantCulture), 29,
            33);
    }

    /// <summary>No address leads to a file that is not a copy, and nothing changes without the page's token.</summary>
    [Theory]
    [InlineData("GET", "/copies/../../etc/passwd", HttpStatusCode.NotFound)]
    [InlineData("GET", "/copies/999999/file", HttpStatusCode.NotFound)]
    [InlineData("GET", "/artwork/..%2F..%2Fwergamon.db", HttpStatusCode.NotFound)]
    [InlineData("GET", "/runs/999999/zip", HttpStatusCode.NotFound)]
    [InlineData("GET", "/runs/999999", HttpStatusCode.NotFound)]
    [InlineData("GET", "/library?album=999999", HttpStatusCode.NotFound)]
    [InlineData("POST", "/library/folders?handler=Add", HttpStatusCode.BadRequest)]
    [InlineData("POST", "/convert?handler=Create", HttpStatusCode.BadRequest)]
    public async Task Unknown_addresses_return_an_error(string method, string path, HttpStatusCode expected)
    {
        using var client = new HttpClient();
        using var request = new HttpRequestMessage(new HttpMethod(method), new Uri(site.Address, path));
        using var response = await client.SendAsync(request);
        Assert.Equal(expected, response.StatusCode);
        Assert.Contains(
            "default-src 'self'", string.Join(' ', response.Headers.GetValues("Content-Security-Policy")), StringComparison.Ordinal);
    }

    /// <summary>axe-core 4: nothing of serious or critical impact, in light and in dark, once colours have changed over.</summary>
    private void AssertNothingShutsOut(string page)
    {
        site.Browser.Script(Axe);
        Assert.Equal((page, "light", ""), (page, "light", Violations("light", "{ resultTypes: ['violations'] }")));
        Assert.Equal((page, "dark", ""), (page, "dark", Violations("dark", "{ runOnly: ['color-contrast'] }")));
    }

    private string? Violations(string theme, string options) => (string?)site.Browser.ScriptAsync(
        $$"""
        const done = arguments[arguments.length - 1];
        document.documentElement.dataset.theme = '{{theme}}';
        Promise.all(document.getAnimations().map(change => change.finished)).then(() => axe.run(document,
            {{options}})).then(result => done(result.violations
          .filter(violation => ['serious', 'critical'].includes(violation.impact))
          .map(violation => violation.id + ': ' + violation.nodes.map(node => node.html.slice(0, 160)).slice(0,
              4).join(' | ')).join('\n')));
        """);
}
