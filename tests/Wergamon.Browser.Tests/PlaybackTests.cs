using Wergamon.Core.Audio;
using Wergamon.Testing;

namespace Wergamon.Browser.Tests;

/// <summary>Every copy plays and seeks: as it is where browsers know the format, decoded where they do not.</summary>
public sealed class PlaybackTests(Site site) : IClassFixture<Site>
{
    [Fact]
    public void Wma_aiff_and_the_sound_of_a_movie_play_and_seek()
    {
        var browser = site.Browser;
        var folder = site.Folder("voices");
        Directory.CreateDirectory(folder);
        EncodedFile.Write(Path.Combine(folder, "Banksman.wma"), "asf", "wmav2", Tone(40));
        // Recognised by content, whatever the extension.
        EncodedFile.Write(Path.Combine(folder, "Onsetter.mov"), "mov", "aac", Tone(40));
        browser.Go("/library/folders");
        browser.Find("#path").SendKeys(folder);
        browser.Leave(() => browser.Click(".add-folder button", "Add folder"));
        browser.FindText("#folders tr", $"{folder} 2 All read");
        foreach (var (words, format) in new[] { ("banksman", "WMA"), ("onsetter", "AAC"), ("shotfirer", "AIFF") })
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

    private static TestSound Tone(int seconds) => new(
        new PcmFormat(new SampleRate(44_100), 2, 32, SampleKind.Float), seconds * 44_100L, (block, start) =>
    {
        var samples = block.Floats;
        for (int i = 0; i < samples.Length; i++)
            samples[i] = 0.2f * MathF.Sin((start + i / 2) % 441 * MathF.Tau / 441);
    });

    private void Until(string condition) =>
        Testing.Browser.Until(
            () => site.Browser.Script($"const sound = document.getElementById('player-sound'); return {condition}") as bool?, condition);
}
