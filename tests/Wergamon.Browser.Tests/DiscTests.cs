using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Tags;
using Wergamon.Testing;
using Wergamon.Testing.Outside;

namespace Wergamon.Browser.Tests;

/// <summary>Discs as a person uses them: insert, name, rip to several targets, stop, continue, find in the library.</summary>
public sealed class DiscTests(SlowDrives site) : IClassFixture<SlowDrives>
{
    private Testing.Browser Browser => site.Browser;

    [Fact]
    public void A_disc_with_several_entries_is_named_ripped_to_two_targets_stopped_and_continued()
    {
        var output = site.Folder("ripped");
        Insert("A", "Sampler, no name on it");
        Browser.FindText("h1", "Lantern Sampler 3");
        // The others are listed with the best one, with the lengths of this disc.
        Browser.Click(".disc-head button", "2 other entries match this disc");
        Browser.FindText("#candidates", "Letter to the Deputy");
        Assert.Equal(3, Browser.All("#candidates tbody tr").Count);
        Browser.Leave(() => Browser.Click("[aria-label='Use these names: Winter Words']"));
        Browser.FindText("h1", "Winter Words");
        Browser.FindText("tr[data-track='3']", "Letter to the Deputy");

        // A title is corrected before the rip.
        Browser.Leave(() => Browser.Click("a", "Edit names"));
        var field = Browser.Find("[aria-label='Title of track 2']");
        field.Clear();
        field.SendKeys("The Weighing House, Mended");
        Browser.Leave(() => Browser.Click("button", "Keep these names"));
        Browser.FindText("tr[data-track='2']", "The Weighing House, Mended");

        ChooseTargets(output, "archive", "pocket-player");
        Browser.Leave(() => Browser.Click("[data-read]", "Rip 3 tracks"));
        // The strip fills while the drive reads.
        double before = 0;
        Testing.Browser.Until(() => (before = Filled()) > 20, "the strip to fill");
        Testing.Browser.Until(() => Filled() > before, "the strip to fill further");
        Browser.FindText("#run-pill", "Ripping");
        Browser.Find("tr[data-track='1'][data-reading='Proved']");
        Browser.Leave(() => Browser.Click(".disc-bar button", "Stop"));
        Browser.Find("#disc[data-run=stopped]");
        Browser.FindText(".disc-bar", "stopped");
        Browser.Leave(() => Browser.Click(".disc-bar button", "Continue"));
        Browser.Find("tr[data-track='3'][data-reading='Proved']");
        Browser.FindText(".verdict", "6 files made and read back");
        Assert.Contains("others got the same", Browser.TextOf("tr[data-track='1']"), StringComparison.Ordinal);

        Assert.Equal(
            [
                "01 How the Frost Splits Stone.flac", "02 The Weighing House, Mended.flac", "03 Letter to the Deputy.flac",
                "Winter Words, reading.txt"
            ],
            Directory.GetFiles(Path.Combine(output, "Archive", "Tin Orchard", "Winter Words"))
                .Select(Path.GetFileName)
                .Order(StringComparer.Ordinal));
        Browser.Click("tr[data-track='2'] [data-play^='/copies/']");
        Testing.Browser.Until(() => Browser.Script("return document.getElementById('player-sound').currentTime > 0.2") as bool?, "sound");
        site.OpenAlbum("Winter Words");
        Assert.Equal((3, 3), (Browser.All(".copy-exact").Count, Browser.All(".copy-lossy").Count));
        Browser.Click(".row-title", "Mended");
        Browser.FindText("#facts .lineage", "Disc Winter Words, track 2");
        Browser.FindText("#facts .lineage", "proved");

        // And once more afterwards: the copies are renamed.
        Browser.Go("/intake/discs?drive=A&edit=true");
        field = Browser.Find("[aria-label='Title of track 2']");
        field.Clear();
        field.SendKeys("The Weighing House");
        Browser.Leave(() => Browser.Click("button", "Keep these names"));
        var renamed = Path.Combine(output, "Archive", "Tin Orchard", "Winter Words", "02 The Weighing House.flac");
        Testing.Browser.Until(() => File.Exists(renamed) as bool?, "the file to get its new name");
        using var stream = File.OpenRead(renamed);
        Assert.Equal("The Weighing House", FileReading.ReadTags(stream).Tags.First(FieldNames.Title));
    }

    [Fact]
    public void An_unknown_disc_is_named_from_a_pasted_list_heard_and_given_a_cover()
    {
        Insert("B", "A white disc");
        Browser.FindText("h1", "Unnamed disc");
        Browser.FindText(".disc-head", "The catalogue does not know this disc");
        Browser.FindText(".cover-none", "no artwork");
        Browser.Click("[aria-label='Play the first seconds of Track 2']");
        Testing.Browser.Until(
            () => Browser.Script("return document.getElementById('player-sound').currentTime > 0.1") as bool?, "sound from the disc");
        Browser.Leave(() => Browser.Click("a", "Fill in the names"));
        Browser.Find("[name='names.Title']").SendKeys("White Disc");
        Browser.Find("#list").SendKeys("1. First Snow 3:15\n2. Second Snow\n");
        Browser.Leave(() => Browser.Click("button", "Use this list"));
        Browser.FindText("[role=alert]", "2 titles, the disc 3 tracks");
        Assert.Equal("Second Snow", Browser.Find("[aria-label='Title of track 2']").GetAttribute("value"));
        Assert.Equal("White Disc", Browser.Find("[name='names.Title']").GetAttribute("value"));
        Browser.Leave(() => Browser.Click("button", "Keep these names"));
        Browser.FindText("tr[data-track='1']", "First Snow");
        var picture = Path.Combine(WebServer.DemoRack, "01-lamp-room.jpg");
        Browser.Leave(() => Browser.All("input[type=file]")[0].SendKeys(picture));
        Browser.FindText(".cover-card", "1000 × 1000 JPEG");
        Browser.Script("document.querySelector('[name=kind]').value = 'Back'");
        Browser.Leave(() => Browser.All("input[type=file]")[0].SendKeys(Path.Combine(WebServer.DemoRack, "05-spent-lime.jpg")));
        Browser.FindText(".pictures", "back");
        Browser.Leave(() => Browser.Click(".pictures button", "Remove"));
        Testing.Browser.Until(() => Browser.All(".pictures li").Count == 0, "the picture to go");
    }

    [Fact]
    public void Discs_state_what_is_special()
    {
        Insert("A", "Under the Counterweight");
        Browser.FindText("tr[data-track='0']", "before track 1");
        Assert.False(Browser.Find("tr[data-track='0'] input").Selected);
        Browser.Click("[data-pick-all]");
        Browser.FindText("[data-read]", "Rip 4 tracks");
        Browser.Click("[data-pick-all]");
        Browser.FindText("[data-read]", "Rip 0 tracks");
        Insert("A", "Ropeway");
        Browser.FindText("tr.is-data", "Data track");
        Insert("A", "Hauling Songs");
        Browser.FindText(".disc-head", "the names are those on the disc itself");
        Browser.FindText("tr[data-track='3']", "Brèche aux ardoises");
        Browser.Leave(() => Browser.Click(".disc-bar button", "Eject"));
        Browser.FindText("h1", "No disc in Drive A");
    }

    [Fact]
    public void A_disc_works_without_an_answer_from_the_catalogue()
    {
        Insert("A", "Lamp Room");
        try
        {
            Mood("Down");
            Browser.FindText(".disc-head", "The catalogue does not answer");
            Browser.Find("[data-read]");
            Browser.Leave(() => Browser.Click(".disc-head button", "Ask again"));
            Browser.FindText(".disc-head", "The catalogue does not answer");
            Mood("Wrong");
            Browser.FindText(".disc-head", "makes no sense");
            Browser.FindText("a", "Edit names");
            // Where a page takes longer than the slow answer, it is asked for again.
            Testing.Browser.Until(
                () =>
                {
                    Mood("Slow");
                    return Browser.TextOf(".disc-head").Contains("Asking the catalogue", StringComparison.Ordinal);
                },
                "the catalogue to be asked");
            Browser.Find("[data-read]");
        }
        finally
        {
            Mood("Quick");
        }

        Testing.Browser.Until(
            () => !Browser.TextOf(".disc-head").Contains("catalogue", StringComparison.Ordinal), "the catalogue to answer");
    }

    private void Mood(string mood)
    {
        Browser.Click("[data-open=rack]");
        Browser.Find("#mood");
        Browser.Leave(
            () => Browser.Script("const s = document.getElementById('mood'); s.value = arguments[0]; s.form.requestSubmit()", mood));
        Browser.Find("#disc-title");
    }

    /// <summary>A scratched disc: re-reads are reported, and the place that never agrees is marked on the strip and in words.</summary>
    [Fact]
    public void A_scratched_disc_is_read_and_its_doubtful_places_are_marked()
    {
        Insert("B", "Spent Lime");
        ChooseTargets(site.Folder("scratched"), "archive");
        Browser.Leave(() => Browser.Click("[data-read]", "Rip 4 tracks"));
        Browser.Find("tr[data-track='3'][data-reading='Doubtful']");
        Browser.FindText("tr[data-track='3']", "no two readings agree from 0:07");
        Browser.FindText("tr[data-track='2']", "re-reads at");
        Browser.Find(".strip-doubtful");
        Browser.FindText(".verdict", "1 track not proved");
        Browser.FindText("#messages .message", "4 files for Archive, 1 track of the disc not proved");
        Assert.Contains(" of ", Browser.TextOf("tr[data-track='4']"), StringComparison.Ordinal);
        Browser.Script("document.querySelector('.strip-doubtful').focus()");
        Browser.FindText("[data-strip-says]", "Doubtful at 0:45");
        Browser.Leave(() => Browser.Click(".verdict a", "Report"));
        Browser.FindText(".verdict", "All 4 files read back, 1 track of the disc not proved");
    }

    [Fact]
    public void A_surround_title_is_heard_channel_by_channel_and_downmixed()
    {
        Insert("B", "Nine Gates in the Round");
        var title = Browser.FindText("tr[data-track='2']", "T02D1-FRONT.WAV and T02D1-REST.WAV");
        Assert.Contains("24-bit 96 kHz, 6 ch", title.Text, StringComparison.Ordinal);
        Browser.Click("[aria-label='Play channel 3 of The Flooded Level alone']");
        Testing.Browser.Until(
            () => Browser.Script("return document.getElementById('player-sound').currentTime > 0.1") as bool?, "sound of one channel");
        // Two channels with the same role are reported, then corrected.
        ChooseRole("Loudspeaker of channel 6 of The Flooded Level", "SideLeft");
        Browser.FindText(".channel-row", "Two channels have the same loudspeaker");
        ChooseRole("Loudspeaker of channel 6 of The Flooded Level", "SideRight");
        Browser.FindText(".channel-row", "Loudspeakers as you set them");
        var output = site.Folder("surround");
        Browser.Change("#rip-folder", output);
        Testing.Browser.Until(
            () => Browser.Script("return document.querySelectorAll('.htmx-request').length === 0") as bool?, "the folder to be kept");
        Browser.Click("[aria-label='Rip First Gate, in the Round']");
        Browser.FindText("[data-read]", "Rip 2 titles");
        Browser.Leave(() => Browser.Click("[data-read]"));
        Browser.FindText("tr[data-track='2']", "downmixed, turned down by");
        Browser.FindText(".verdict", "2 files made and read back");
        Browser.Click("[aria-label='Play The Flooded Level']");
        Testing.Browser.Until(
            () => Browser.Script("return document.getElementById('player-sound').currentTime > 0.2") as bool?, "sound of the downmix");
        var stereo = LibFlac.Decode(Path.Combine(output, "Nine Gate Ensemble", "Nine Gates in the Round", "02 The Flooded Level.flac"));
        Assert.Equal((96_000, 2, 24), (stereo.Rate, stereo.Channels, stereo.Bits));
    }

    private void ChooseRole(string label, string role) => Browser.Change($"[aria-label='{label}']", role);

    private void Insert(string drive, string label)
    {
        Browser.Go($"/intake/discs?drive={drive}");
        Browser.Find("main h1");
        if (Browser.All("#disc [data-open=rack]").Count > 0)
        {
            Browser.Click("[data-open=rack]");
            Browser.Leave(() => Browser.Click("#rack .rack-disc", label));
        }
        else
        {
            Browser.Leave(() => Browser.Click("#disc .rack-disc", label));
        }

        Browser.Find("#disc-title");
    }

    private void ChooseTargets(string folder, params string[] keys)
    {
        foreach (var box in Browser.All("#make input[name=target]").Select(box => box.GetAttribute("value")!).ToList())
        {
            if (Browser.Find($"#make input[value='{box}']").Selected != keys.Contains(box))
            {
                Browser.Click($"#make input[value='{box}']");
                Testing.Browser.Until(
                    () => Browser.Script("return document.querySelectorAll('.htmx-request').length === 0") as bool?,
                    "the choice to be kept");
            }
        }

        Browser.Change("#rip-folder", folder);
        Testing.Browser.Until(
            () => Browser.Script("return document.querySelectorAll('.htmx-request').length === 0") as bool?, "the folder to be kept");
        Assert.Equal(folder, Browser.Find("#rip-folder").GetAttribute("value"));
    }

    /// <summary>How far the strip is filled with what was read twice, in units of the drawing.</summary>
    private double Filled() => System.Convert.ToDouble(
        Browser.Script(
            "return [...document.querySelectorAll('.strip-twice')].reduce((sum, part) => sum + Number(part.getAttribute('width')), 0)"),
        System.Globalization.CultureInfo.InvariantCulture);
}
