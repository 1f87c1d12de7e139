using System.Globalization;
using System.IO.Compression;
using System.Security.Cryptography;
using OpenQA.Selenium;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Tags;
using Wergamon.Testing;
using Wergamon.Testing.Outside;

namespace Wergamon.Browser.Tests;

/// <summary>From the Library to the report, as a person goes, then a check of what is on disk.</summary>
public sealed class WholeWayTests(Site site) : IClassFixture<Site>
{
    [Fact]
    public async Task An_album_becomes_tagged_mp3()
    {
        var output = site.Folder("pocket");
        var originals = Directory.GetFiles(Path.Combine(WebServer.DemoMusic, "Nine Gate Ensemble"), "*", SearchOption.AllDirectories)
            .Order()
            .ToList();
        var before = originals.Select(path => Convert.ToHexString(SHA256.HashData(File.ReadAllBytes(path)))).ToList();
        var browser = site.Browser;
        site.PlanAlbum("Live in the Slate Cavern", output);
        site.ChooseTarget("Pocket player");
        browser.FindText(".total-bar", "Convert 5 tracks");
        // The surround track is downmixed and resampled before it is encoded: four points on its route.
        Assert.Equal(4, browser.FindText("tr", "Ninth Gate, in the Round").FindElements(By.CssSelector(".route rect")).Count);
        Assert.Contains("80 of 80", browser.TextOf(".total-bar"), StringComparison.Ordinal);
        site.StartRun();
        site.WaitForEnd();
        Assert.Contains("All 5 tracks proved", browser.TextOf(".verdict"), StringComparison.Ordinal);
        browser.FindText("tr", "to avoid clipping");

        var files = Directory.GetFiles(Path.Combine(output, "Nine Gate Ensemble", "Live in the Slate Cavern"))
            .Order(StringComparer.Ordinal)
            .ToList();
        Assert.Equal(
            [
                "01 Cavern Air, First Gate.mp3", "02 Dripstone.mp3",
                "03 The Long Adit, in Which the Water Is Heard before It Is Seen and Counted by the Drop.mp3", "04 Ninth Gate.mp3",
                "05 Ninth Gate, in the Round.mp3"
            ],
            files.Select(Path.GetFileName));
        using (var stream = File.OpenRead(files[1]))
        {
            var tags = FileReading.ReadTags(stream).Tags;
            Assert.Equal("Dripstone", tags.First(FieldNames.Title));
            Assert.Equal("Hollis Wren", tags.First("Lamp keeper"));
            Assert.Equal(PictureKind.Front, Assert.Single(tags.Pictures).Kind);
        }

        Assert.Equal(LibMpg123.CountFrames(files[3]), LibMpg123.CountFrames(files[4]));
        Assert.Equal(before, originals.Select(path => Convert.ToHexString(SHA256.HashData(File.ReadAllBytes(path)))));

        await AssertDownloads(files);
        AssertPlays();
        site.OpenAlbum("Live in the Slate Cavern");
        Assert.Equal(5, browser.All(".copy-lossy").Count);
        browser.Click(".row-title", "Dripstone");
        browser.FindText("#facts .lineage-lossy", "for Pocket player");
    }

    [Fact]
    public void Untagged_wav_becomes_flac_with_tags_from_its_name()
    {
        var output = site.Folder("archive");
        site.PlanAlbum("Carbide", output);
        site.ChooseTarget("Archive");
        site.Browser.FindText(".note", "from the file name");
        site.StartRun();
        site.WaitForEnd();
        using var stream = File.OpenRead(Path.Combine(output, "Odalys Fenn", "Carbide", "02 Seam of Light.flac"));
        var tags = FileReading.ReadTags(stream).Tags;
        Assert.Equal(
            ("Seam of Light", "Odalys Fenn", "2024"),
            (tags.First(FieldNames.Title), tags.First(FieldNames.AlbumArtist), tags.First(FieldNames.Year)));
        Assert.Single(tags.Pictures);
    }

    [Fact]
    public void A_track_can_be_left_out_and_the_quality_changed()
    {
        var browser = site.Browser;
        site.PlanAlbum("Songs from the Winding House", site.Folder("exceptions"));
        site.ChooseTarget("Pocket player");
        Assert.Equal(5, browser.All("svg[aria-label*='MP3 as it is bit for bit']").Count);
        Type("again", "true");
        browser.FindText(".note-lossy", "Second lossy pass: detail lost at 192");
        browser.Click("[aria-label='Pick Powder Monkey']");
        browser.Click(".plan-picked [name=leaveOut][value=true]");
        browser.Find("[aria-label='Include Powder Monkey']");
        browser.FindText(".total-bar", "Convert 4 tracks");
        Type("step", "2");
        browser.FindText(".target.is-chosen", "MP3 128 kbit/s");
        browser.FindText(".settings", "128 kbit/s");
        // Names by a pattern; a bad one is refused and stays to be mended.
        Type("names", "{year} {albun}/{track:00} {title}");
        browser.FindText("[role=alert]", "There is no field \"albun\". Is it {album}");
        Type("names", "{year} {album}/{track:00} {title}");
        browser.FindText("#names-hint", "Songs from the Winding House/01 ");
        Type("names", "");
        browser.FindText("#names-hint", "Tin Orchard/Songs from the Winding House/01 ");
        Type("scale", "2");
        browser.FindText(".target.is-chosen", "MP3 variable, about 190 kbit/s");
        Type("scale", "0");
        browser.FindText(".target.is-chosen", "MP3 256 kbit/s");
        Type("step", "7");
        browser.FindText(".target.is-chosen", "MP3 320 kbit/s");
        Type("step", "6");
        browser.FindText(".target.is-chosen", "MP3 256 kbit/s");
    }

    /// <summary>
    /// Two picked tracks get another format and level than the plan, a third another name; one of them goes back to the plan.
    /// </summary>
    [Fact]
    public void Exceptions_are_made_for_picked_tracks()
    {
        var browser = site.Browser;
        var output = site.Folder("by-track");
        site.PlanAlbum("Songs from the Winding House", output);
        site.ChooseTarget("Pocket player");
        browser.Click("[aria-label='Pick Powder Monkey']");
        browser.Click("tbody tr:nth-child(1) [name=track]");
        browser.FindText(".plan-picked", "2 tracks picked");
        browser.Click(".plan-picked button", "Change");
        browser.FindText("#change-title", "2 tracks");
        Change("format", "wav");
        browser.Find("#change-body [name=dither]");
        Change("channels", "Mono");
        browser.FindText("#change-body", "An exception from the plan");
        Testing.Browser.Until(() => browser.All("svg[aria-label*='to mono recalculated']").Count == 2, "both routes to mono");
        browser.Click("#change-body button", "Close");
        browser.Click("tbody tr:nth-child(1) .btn-row");
        browser.Click("#change-body button", "Reset to plan");
        browser.FindText("#change-body", "Follows the plan");
        Change("name", "Another: name");
        browser.FindText("#change-body", "An exception from the plan");
        browser.Click("#change-body button", "Close");
        browser.Leave(() => browser.Click(".plan-chips a", "Exceptions 2"));
        Assert.Equal(2, browser.All("tbody tr[data-row]").Count);
        site.StartRun();
        site.WaitForEnd();
        var made = Directory.GetFiles(output, "*.*", SearchOption.AllDirectories).Select(Path.GetFileName).ToList();
        Assert.Single(made, name => name!.EndsWith("Powder Monkey.wav", StringComparison.Ordinal));
        Assert.Single(made, name => name == "Another- name.mp3");
        Assert.Empty(browser.Complaints());

        void Change(string name, string value) => browser.Change($"#change-body [name={name}]", value);
    }

    /// <summary>One track becomes two at a typed time, two others become one, and all are converted.</summary>
    [Fact]
    public void Tracks_are_split_and_joined()
    {
        var browser = site.Browser;
        var output = site.Folder("split");
        site.PlanAlbum("Carbide", output);
        site.ChooseTarget("Archive");
        browser.Click("tbody tr:nth-child(2) .btn-row");
        browser.Click("#change-body summary", "Split into parts");
        browser.Find("#split-marks").SendKeys("soon");
        browser.Click("#change-body button", "Split at these times");
        browser.FindText("#change-body [role=alert]", "does not begin with a time");
        browser.Script("document.querySelector('#split-marks').value = '0:05 The Long Adit'");
        browser.Click("#change-body button", "Split at these times");
        browser.FindText("#change-body [role=alert]", "Split into 2 parts");
        browser.Click("#change-body button", "Close");
        browser.Find("svg[aria-label*='0:00 to 0:05 bit for bit']");
        browser.Click("tbody tr:nth-child(4) [name=track]");
        browser.Click("tbody tr:nth-child(5) [name=track]");
        browser.Click(".plan-picked button", "Join into one");
        browser.Find("svg[aria-label*='2 joined bit for bit']");
        browser.FindText(".total-bar", "Convert 5 tracks");
        site.StartRun();
        site.WaitForEnd();
        Assert.Equal(5, Directory.GetFiles(output, "*.flac", SearchOption.AllDirectories).Length);
        Assert.Empty(browser.Complaints());
    }

    /// <summary>All that a search finds, kept as a mirror: made, changed so that one track goes, and brought up to date.</summary>
    [Fact]
    public void A_search_is_mirrored_and_brought_up_to_date()
    {
        var browser = site.Browser;
        var output = site.Folder("mirror");
        browser.Go("/library/tracks");
        int all = int.Parse(browser.TextOf("h1").Split(' ')[0], CultureInfo.InvariantCulture);
        browser.Leave(() => browser.Click("[data-convert-list]", $"Convert all {all}"));
        browser.FindText(".plan-head .sub", $"of {all} tracks");
        browser.Go("/library/tracks?words=winding+house");
        browser.Leave(() => browser.Click("[data-convert-list]", "Convert all 5"));
        browser.FindText("h1", "Found: winding house");
        Type("folder", output);
        browser.FindText("#folder-hint", output);
        browser.Leave(() => browser.Click(".total-bar button", "Keep as a mirror"));
        browser.FindText(".sub", "All tracks, found with \"winding house\", for Pocket player");
        Assert.Equal(5, browser.All("tr[data-state=New]").Count);
        site.StartRun();
        browser.FindText("#run[data-state=done] .verdict", "All 5 files updated.");
        browser.Go("/convert");
        browser.Leave(() => browser.Click(".row-title", "Found: winding house"));
        browser.FindText(".lead", "All 5 files are up to date.");
        browser.Leave(() => browser.Click(".title-links button", "Change"));
        browser.Click("[aria-label='Pick Powder Monkey']");
        browser.Click(".plan-picked [name=leaveOut][value=true]");
        browser.Find("[aria-label='Include Powder Monkey']");
        browser.Leave(() => browser.Click(".total-bar button", "Save the mirror"));
        browser.FindText("tr[data-state=Gone]", "the file will go to the trash");
        site.StartRun();
        browser.Find("#run[data-state=done]");
        Assert.Equal(4, Directory.GetFiles(output, "*.mp3", SearchOption.AllDirectories).Length);
        Assert.Empty(browser.Complaints());
    }

    /// <summary>A target of one's own: made from another, changed, used in a plan, exported, removed and imported again.</summary>
    [Fact]
    public async Task A_target_is_made_used_exported_and_imported()
    {
        var browser = site.Browser;
        browser.Go("/convert/targets/pocket-player");
        browser.Find("#name").SendKeys("Car, old");
        browser.Leave(() => browser.Click("button", "Save as a new target"));
        browser.FindText("h1", "Car, old");
        Choose("artwork", "front, at most 300 px");
        browser.FindText("#artwork option:checked", "front, at most 300 px");
        Choose("rate", "48 kHz exactly");
        browser.FindText(".target.is-chosen", "MP3 256 kbit/s, 48 kHz");
        Type("names", "{albun}");
        browser.FindText("[role=alert]", "There is no field");
        Type("names", "{track:00} {title}");
        browser.FindText("#names", "{track:00} {title}");
        using var client = new HttpClient();
        var file = await client.GetByteArrayAsync(new Uri(browser.Find("a[href$='handler=Export']").GetAttribute("href")!));

        var output = site.Folder("car");
        site.PlanAlbum("Night Shift at Pit Four", output);
        site.ChooseTarget("Car, old");
        browser.FindText("td", "48 kHz gains nothing over 44.1 kHz");
        site.StartRun();
        site.WaitForEnd();
        var made = Directory.GetFiles(output, "*.mp3").Order(StringComparer.Ordinal).ToList();
        Assert.Equal("01 ", Path.GetFileName(made[0])[..3]);
        using (var stream = File.OpenRead(made[0]))
            Assert.Equal(300, PictureSize.Of(Assert.Single(FileReading.ReadTags(stream).Tags.Pictures).Data.Span)!.Value.Width);

        browser.Go("/convert/targets/own-car--old");
        browser.Script("window.confirm = () => true");
        browser.Leave(() => browser.Click(".target-actions button", "Remove"));
        Assert.DoesNotContain("Car, old", browser.TextOf(".targets"), StringComparison.Ordinal);
        var kept = site.Folder("car.json");
        await File.WriteAllBytesAsync(kept, file);
        browser.Leave(() => browser.All("input[type=file]")[0].SendKeys(kept));
        browser.FindText("h1", "Car, old");
        browser.FindText("#names", "{track:00} {title}");
        Assert.Empty(browser.Complaints());
    }

    /// <summary>Chooses, and waits for the answer: a second change must not overtake the first.</summary>
    private void Choose(string id, string option)
    {
        site.Browser.Change(
            $"#{id}",
            (string)site.Browser.Script(
                "return [...document.getElementById(arguments[0]).options].find((option) => option.text === arguments[1]).value", id,
                option)!);
        Testing.Browser.Until(() => site.Browser.All(".htmx-request").Count == 0, "the choice to be saved");
    }

    /// <summary>A movie in two languages: the second is chosen, and its AAC goes into the M4A as it is.</summary>
    [Fact]
    public void Audio_stream_of_a_movie_is_chosen_and_kept_unchanged()
    {
        var browser = site.Browser;
        var folder = site.Folder("movies");
        Directory.CreateDirectory(folder);
        static TestSound Sound(int channels) => TestSound.Music(new PcmFormat(new SampleRate(48_000), channels, 16), 480_000);
        var options = new Dictionary<string, string> { ["b"] = "128000" };
        Testing.EncodedFile.WriteStreams(
            Path.Combine(folder, "The Banksman's Daughter.mkv"), "matroska", ("aac", "eng", options, Sound(6)),
            ("aac", "deu", options, Sound(2)));
        browser.Go("/library/folders");
        browser.Find("#path").SendKeys(folder);
        browser.Leave(() => browser.Click(".add-folder button", "Add folder"));
        browser.FindText("#folders tr", $"{folder} 1 All read");
        var output = site.Folder("phone");
        site.PlanAlbum("movies", output);
        site.ChooseTarget("Phone");
        browser.Find("svg[aria-label*='downmix to stereo recalculated']");
        browser.Change("[name=stream]", "1");
        browser.Find("svg[aria-label*='AAC as it is bit for bit']");
        site.StartRun();
        site.WaitForEnd();
        browser.FindText("tr", "every sample equal");
        using var stream = File.OpenRead(Assert.Single(Directory.GetFiles(output, "*.m4a", SearchOption.AllDirectories)));
        var facts = FileReading.Read(stream).Facts!;
        Assert.Equal(2, facts.Format.Channels);
        // The movie does not say where its last packets end.
        Assert.InRange(facts.FrameCount, 480_000, 482_047);
    }

    [Fact]
    public void Read_only_folder_is_refused_with_a_reason()
    {
        var browser = site.Browser;
        site.PlanAlbum("Carbide", site.Folder("fine"));
        browser.Change("#folder", "/etc/music");
        browser.FindText("[role=alert]", "/etc/music is not below");
        browser.Go("/library/folders");
        browser.Find("#path").SendKeys("/etc" + Keys.Enter);
        browser.FindText("[role=alert]", "/etc is not below");
        Assert.Equal("/etc", browser.Find("#path").GetAttribute("value"));
    }

    private void Type(string id, string text) => site.Browser.Change($"#{id}", text);

    private async Task AssertDownloads(List<string> files)
    {
        using var client = new HttpClient();
        var address = new Uri(site.Browser.Find("a[href$='/zip']").GetAttribute("href")!);
        using var zip = new ZipArchive(new MemoryStream(await client.GetByteArrayAsync(address)));
        Assert.Equal(files.Select(Path.GetFileName), zip.Entries.Select(entry => entry.Name));
        using var unpacked = new MemoryStream();
        zip.Entries[0].Open().CopyTo(unpacked);
        Assert.Equal(File.ReadAllBytes(files[0]), unpacked.ToArray());
        var one = new Uri(site.Browser.Find("a[aria-label='Download Dripstone']").GetAttribute("href")!);
        Assert.Equal(File.ReadAllBytes(files[1]), await client.GetByteArrayAsync(one));
    }

    private void AssertPlays()
    {
        site.Browser.Click("[data-play]");
        Testing.Browser.Until(
            () => site.Browser.Script("return document.getElementById('player-sound').currentTime > 0.2") as bool?, "sound");
        Assert.Equal("Stop", site.Browser.Find("[data-play]").Text);
        site.Browser.Click("[data-play]");
        Assert.Equal(true, site.Browser.Script("return document.getElementById('player-sound').paused"));
    }
}
