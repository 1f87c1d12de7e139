using Wergamon.Core.Audio;
using Wergamon.Testing.Outside;

namespace Wergamon.Browser.Tests;

public sealed class InterruptionTests(Site site) : IClassFixture<Site>
{
    /// <summary>Its five tracks are downmixed and resampled, which takes long enough to interrupt.</summary>
    private const string LongAlbum = "Live in the Slate Cavern";

    [Fact]
    public void A_run_is_stopped_and_continued()
    {
        var output = site.Folder("stopped");
        var browser = site.Browser;
        site.PlanAlbum(LongAlbum, output);
        site.ChooseTarget("Pocket player");
        site.StartRun();
        browser.Find("[data-item-state=done]");
        browser.Leave(() => browser.Click(".run-actions button", "Stop"));
        browser.Find("#run[data-state=stopped]");
        browser.FindText("#run-pill", "stopped");
        // The interrupted track waits again, and nothing of it stays on disk.
        Testing.Browser.Until(() => browser.All("[data-item-state=working]").Count == 0, "the work to end");
        Testing.Browser.Until(() => Hidden(output).Count == 0, "the temporary files to go");
        Assert.NotEmpty(browser.All("[data-item-state=waiting]"));

        browser.Go("/library");
        browser.Click("#run-pill");
        browser.Leave(() => browser.Click("#run-drawer a", LongAlbum));
        browser.Leave(() => browser.Click(".run-actions button", "Continue"));
        site.WaitForEnd();
        Assert.Equal(5, Directory.GetFiles(output, "*.mp3", SearchOption.AllDirectories).Length);
    }

    [Fact]
    public void Runs_are_moved_paused_and_made_quiet_in_the_queue()
    {
        var browser = site.Browser;
        foreach (var target in (string[])["Phone", "Car"])
        {
            site.PlanAlbum(LongAlbum, site.Folder("queue " + target));
            site.ChooseTarget(target);
            site.StartRun();
        }

        browser.Go("/runs");
        browser.Change("#workers", "0");
        browser.Find("#workers option[value='0'][selected]");
        browser.FindText(".queue-rows tbody tr:nth-child(2)", "Car");
        browser.Click(".queue-rows tbody tr:nth-child(2) button", "Earlier");
        browser.FindText(".queue-rows tbody tr:nth-child(1)", "Car");
        browser.Click(".queue-rows tbody tr:nth-child(1) button", "Pause");
        browser.FindText(".queue-rows tbody tr:nth-child(1)", "stopped");
        browser.Click(".queue-rows tbody tr:nth-child(1) button", "Continue");
        browser.Change("#workers", "2");
        browser.FindText("#runs", "Nothing is running");
        Assert.Equal(
            10,
            Directory.GetFiles(site.Folder(""), "*.m*", SearchOption.AllDirectories)
                .Count(path => path.Contains("/queue ", StringComparison.Ordinal)));
        Assert.Empty(browser.Complaints());
    }

    [Fact]
    public void A_killed_server_resumes()
    {
        var output = site.Folder("killed");
        site.PlanAlbum(LongAlbum, output);
        site.ChooseTarget("Pocket player");
        site.StartRun();
        site.Browser.Find("[data-item-state=done]");
        var address = new Uri(site.Browser.Address).AbsolutePath;
        var finished = new Dictionary<string, DateTime>();
        site.PowerCut(() =>
        {
            foreach (var path in Directory.GetFiles(output, "*.mp3", SearchOption.AllDirectories))
            {
                // A file with a final name is complete: an independent decoder gives the length of its source.
                Assert.True(LibMpg123.CountFrames(path) > 20 * SampleRate.AudioDisc.Hertz);
                finished[path] = File.GetLastWriteTimeUtc(path);
            }
        });
        Assert.InRange(finished.Count, 1, 4);
        site.Browser.Go(address);
        site.WaitForEnd();
        Assert.Contains("All 5 tracks proved", site.Browser.TextOf(".verdict"), StringComparison.Ordinal);
        Assert.Equal(5, Directory.GetFiles(output, "*.mp3", SearchOption.AllDirectories).Length);
        Assert.Empty(Hidden(output));
        Assert.All(finished, pair => Assert.Equal(pair.Value, File.GetLastWriteTimeUtc(pair.Key)));
    }

    [Fact]
    public void The_end_of_a_run_is_announced_on_every_page()
    {
        site.PlanAlbum("Carbide", site.Folder("told"));
        site.ChooseTarget("Plain");
        // Without opening its page, which tells the end in its own way; and the run may end before any other page is open.
        site.Browser.Script(
            "const form = document.querySelector('.run-form'); fetch(form.action, { method: 'POST', body: new FormData(form), redirect: "
                + "'manual' })");
        site.Browser.FindText("#messages .message", "Carbide: 5 tracks for Plain, all proved");
    }

    private static List<string> Hidden(string folder) =>
        [.. Directory.EnumerateFiles(folder, ".*", new EnumerationOptions { RecurseSubdirectories = true, AttributesToSkip = 0 })];
}
