using System.Globalization;

namespace Wergamon.Browser.Tests;

/// <summary>The Bench: a copy is compared with its source from the report, heard, encoded again and again, and tried blind.</summary>
public sealed class BenchTests(Site site) : IClassFixture<Site>
{
    [Fact]
    public void A_copy_is_compared_from_the_report_seen_heard_and_tried_blind()
    {
        var browser = site.Browser;
        site.PlanAlbum("Night Shift at Pit Four", site.Folder("bench"));
        site.ChooseTarget("Pocket player");
        site.StartRun();
        site.WaitForEnd();
        browser.Leave(() => browser.Click(".run-rows tr:nth-child(1) .links button", "Compare"));
        browser.FindText("#verdict", "The same recording with a loss");
        browser.Find("[data-bench][data-there='1']");
        var test = new Uri(browser.Address).AbsolutePath;

        // Zoom, a marked stretch, its spectrum, a spectrogram.
        var (from, to) = Shown(browser);
        browser.Script("document.querySelector('[data-bench-view]').focus()");
        browser.Press("++");
        Assert.Equal((to - from) / 4, Shown(browser) is var (left, right) ? right - left : 0, 0.01);
        browser.Press(OpenQA.Selenium.Keys.ArrowRight + OpenQA.Selenium.Keys.ArrowRight, OpenQA.Selenium.Keys.Shift);
        browser.FindText("[data-bench-spectrum-of]", "Mean spectrum from 0:00.00");
        browser.Click("[data-bench-zoom='peak']");
        Assert.Equal(0.1, Shown(browser) is var (near, far) ? far - near : 0, 0.001);
        browser.Script(
            "const s = document.querySelector('[data-bench-gram-choice]'); s.value = '2'; s.dispatchEvent(new Event('input', { bubbles: "
                + "true }))");
        browser.FindText("[data-bench-gram-of]", "of the residue");
        browser.Click("[data-bench-zoom='whole']");

        // What is left is heard, and is A minus B to the last bit, in what is played and in what is saved.
        browser.Click("[data-bench-hear='2']");
        browser.Find("[data-bench][data-playing='1']");
        var place = browser.TextOf("[data-bench-place]");
        Testing.Browser.Until(() => browser.TextOf("[data-bench-place]") != place, "the place to move on");
        Assert.True(browser.ScriptAsync($$"""
            const done = arguments[arguments.length - 1];
            const floats = (path) => fetch(path).then((answer) => answer.arrayBuffer());
            Promise.all([floats('{{test}}/samples?from=44100&count=1000'), floats('{{test}}/residue.wav')]).then(([both, saved]) => {
              const samples = new Float32Array(both), text = new TextDecoder('latin1').decode(saved.slice(0, 200));
              const residue = new Float32Array(saved.slice(text.indexOf('data') + 8 + 44100 * 8, text.indexOf('data') + 8 + 45100 * 8));
              done(residue.length === 2000 && residue.some((sample) => sample !== 0)
                  && residue.every((sample, at) => Math.abs(sample - (samples[at] - samples[2000 + at])) < 1e-7));
            }, () => done(false));
            """) is true);
        browser.Press("2");
        browser.Click("[data-bench-play]", "Stop");
        browser.FindText("[data-bench-play]", "Play");

        // Ten trials by keys alone; the score comes at the end.
        browser.Click("button", "Blind test");
        browser.Leave(() => browser.Click("#new-blind .btn-main", "Start"));
        for (int trial = 1; trial <= 10; trial++)
        {
            browser.FindText(".blind", $"Trial {trial} of 10");
            if (trial == 1)
            {
                browser.Press("x");
                browser.Find("[data-blind][data-playing='1']");
                browser.Press("ab");
            }

            browser.Press("1");
        }

        browser.FindText(".blind-score", "of 10 right");
        Assert.Equal(10, browser.All(".blind-answers tbody tr").Count);
    }

    [Fact]
    public void Eight_passes_are_drawn_and_any_of_them_compared()
    {
        var browser = site.Browser;
        browser.Go("/bench/passes?words=spent lime");
        browser.Leave(() => browser.Click(".bench-copies a", "WAV"));
        browser.Leave(() => browser.Click(".pass-count .btn-main", "Encode"));
        browser.FindText("[role=alert]", "Choose at least one target.");
        browser.Script(
            "document.querySelector('[name=target][value=archive]').checked = true; "
                + "document.querySelector('[name=target][value=pocket-player]').checked = true");
        browser.Leave(() => browser.Click(".pass-count .btn-main", "Encode"));
        Testing.Browser.Until(() => browser.All(".pass-rows [data-row]").Count == 16, "all passes");
        browser.FindText(".pass-verdict", "After 8 passes: identical bit for bit.");
        Assert.Equal(6, browser.All(".pass-chart").Count);
        browser.Leave(() => browser.Click(".pass-rows tr:nth-child(9) button[value='0']"));
        browser.FindText("#verdict", "Identical bit for bit");
        browser.FindText(".set-rail .is-chosen", "pass 8: identical");
    }

    /// <summary>The demo has one file that is not what it says; no other is called so.</summary>
    [Fact]
    public void Files_are_checked_and_the_one_false_file_of_the_demo_is_found()
    {
        var browser = site.Browser;
        browser.Go("/bench/findings");
        browser.Leave(() => browser.Click(".btn-main", "Check"));
        browser.FindText("#bench-rail", "1 not as they say, 0 unsure");
        browser.FindText(".finding-chips", "made from a lossy file 1");
        Assert.Contains("Firedamp", Assert.Single(browser.Texts(".finding-rows tbody tr")), StringComparison.Ordinal);
        browser.Go("/library/tracks");
        browser.Leave(() => browser.Click(".chip", "suspect"));
        browser.FindText("[data-row]", "Firedamp");
        Assert.Equal("1 track", browser.TextOf("h1"));
    }

    [Fact]
    public void Any_two_files_are_chosen_by_browsing()
    {
        var browser = site.Browser;
        browser.Go("/bench/compare");
        browser.Click(".bench-files summary");
        Choose("first-file", "demo-music", "Wickwire", "Firedamp", "01 Firedamp.flac");
        Choose("second-file", "demo-music", "Old laptop", "Desktop", "slatebreaker last take.wav");
        browser.Leave(() => browser.Click(".bench-files .btn", "Compare"));
        browser.FindText("#verdict", "Not the same recording");

        void Choose(string field, params IReadOnlyList<string> way)
        {
            browser.Click($"[data-browse-file={field}]");
            browser.FindText("#folder-browser-title", "Choose a file");
            foreach (var step in way)
                browser.Click(".folder-choices button", step);
            Testing.Browser.Until(
                () => browser.Script("return document.getElementById(arguments[0]).value", field) is string path
                    && path.EndsWith(way[^1], StringComparison.Ordinal),
                "the path in its field");
        }
    }

    private static (double From, double To) Shown(Testing.Browser browser)
    {
        var shown = (string)browser.Script(
            "const b = document.querySelector('[data-bench]').dataset; return `${b.shownFrom} ${b.shownTo}`")!;
        var parts = shown.Split(' ').Select(part => double.Parse(part, CultureInfo.InvariantCulture)).ToList();
        return (parts[0], parts[1]);
    }
}
