using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Iff;
using Wergamon.Testing;

namespace Wergamon.Browser.Tests;

/// <summary>What browsers do not know is heard all the same, from any place.</summary>
public sealed class PlaybackTests(Site site) : IClassFixture<Site>
{
    [Fact]
    public void A_wma_and_an_aiff_are_played_and_sought_in()
    {
        var browser = site.Browser;
        var folder = site.Folder("voices");
        Directory.CreateDirectory(folder);
        EncodedFile.Write(Path.Combine(folder, "Banksman.wma"), "asf", "wmav2", Tone(40));
        browser.Go("/library/folders");
        browser.Find("#path").SendKeys(folder);
        browser.Leave(() => browser.Click(".add-folder button", "Add folder"));
        browser.FindText("#folders tr", $"{folder} 1 All read");
        foreach (var (words, format) in new[] { ("banksman", "WMA"), ("shotfirer", "AIFF") })
        {
            browser.Go("/library/tracks?words=" + words);
            browser.FindText("[data-row] .copies", format);
            browser.Click("[data-row] [data-play]");
            Until("sound.currentTime > 0.2 && sound.duration > 20");
            browser.Script("document.getElementById('player-sound').currentTime = 18");
            Until("!sound.seeking && sound.currentTime > 18.1");
            browser.Click("[data-row] [data-play]");
        }

        Assert.Empty(browser.Complaints());
    }

    private static TestSound Tone(int seconds) => new(new PcmFormat(new SampleRate(44_100), 2, 32, SampleKind.Float), seconds * 44_100L, (block, start) =>
    {
        var samples = block.Floats;
        for (int i = 0; i < samples.Length; i++)
            samples[i] = 0.2f * MathF.Sin((start + i / 2) % 441 * MathF.Tau / 441);
    });

    private void Until(string condition) =>
        Testing.Browser.Until(() => site.Browser.Script($"const sound = document.getElementById('player-sound'); return {condition}") as bool?, condition);
}
