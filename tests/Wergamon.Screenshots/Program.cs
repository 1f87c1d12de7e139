using Wergamon.Testing;

// Makes the pictures of docs/screenshots from demo data: Wergamon.Screenshots FOLDER
if (args is not [var pictures])
{
    Console.Error.WriteLine("Say where the pictures go: Wergamon.Screenshots FOLDER");
    return 2;
}

// Paths show in the pictures: a short one, the same wherever the pictures are made.
var home = Path.Combine(Path.GetTempPath(), "lantern-quarry");
var music = Path.Combine(home, "Music");
// From a time that was cut off.
if (Directory.Exists(home))
    Directory.Delete(home, recursive: true);
FileTree.Copy(WebServer.DemoMusic, music);

try
{
    using var server = new WebServer(Path.Combine(home, "data"), music, home, speedup: 4);
    using var browser = new Browser(server.Address);
    browser.Go("/library/folders");
    browser.FindText("#folders", "All read");
    browser.Go("/library/duplicates");
    browser.FindText("#duplicate-kinds li", "Same sound twice\n1");
    Browser.Until(
        () => browser.TextOf("#duplicate-kinds") is { Length: > 0 } kinds
            && !kinds.Contains("still to be analysed", StringComparison.Ordinal),
        "all copies to be analysed");
    browser.Go("/library/duplicates");
    browser.FindText("[data-going]", "2 files ticked");
    Picture("duplicates");

    Plan("Night Shift at Pit Four", "DJ stick");
    browser.Leave(() => browser.Click(".total-bar .btn-main"));
    browser.Find("#run[data-state=done]");

    Plan("Live in the Slate Cavern", "Pocket player");
    Picture("plan");
    browser.Leave(() => browser.Click(".total-bar .btn-main"));
    browser.Find("[data-item-state=done]");
    browser.FindText(".run-rows", "%");
    Picture("run");
    browser.Find("#run[data-state=done]");
    Picture("report");
    Plan("Songs from the Winding House", "Car");
    browser.Leave(() => browser.Click(".total-bar button", "Keep as a mirror"));
    browser.Go("/convert");
    browser.FindText(".front-state", "Review");
    Picture("convert-front");

    Album("Night Shift at Pit Four");
    browser.Click(".row-title", "Slatebreaker");
    browser.FindText("#facts h2", "Slatebreaker");
    browser.FindText("[data-row]", "Tallow").FindElement(OpenQA.Selenium.By.CssSelector("[data-play]")).Click();
    Browser.Until(() => browser.Script("return document.getElementById('player-sound').currentTime > 4") as bool?, "four seconds of sound");
    Picture("library");

    browser.Go("/intake/files");
    browser.All("[data-upload][webkitdirectory]")[0].SendKeys(MakeLarge(Path.Combine(home, "From the bus")));
    browser.FindText("#upload-panel [data-title]", "of 9 files");
    browser.FindText("#upload-panel li", "Here");
    Picture("files");
    browser.FindText("#upload-panel [data-title]", "9 files uploaded");

    browser.Go("/library/tracks");
    browser.FindText("[data-row]", "Slatebreaker").FindElement(OpenQA.Selenium.By.CssSelector("[data-pick]")).Click();
    browser.FindText(".pick-count", "1 track picked");
    Picture("tracks");

    browser.Go("/library/tracks?words=club+june");
    browser.FindText("[data-row]", "Shotfirer");
    browser.Click("[data-drop-picks]");
    browser.Click("[data-pick-list]");
    browser.FindText(".pick-count", "5 tracks picked");
    browser.Click(".list-form summary", "Add to set");
    browser.Leave(() => browser.Click(".menu-above button", "New set"));
    var set = new Uri(browser.Address).AbsolutePath;
    browser.Leave(() => browser.Click("#set button", "Analyse 5 tracks"));
    browser.Find("#run[data-state=done]");
    browser.Go(set);
    browser.Click("#set button", "Details");
    browser.Script("document.getElementById('set-title').value = 'Underlamp, 20 June'");
    browser.Leave(() => browser.Click("#set-details button", "Save"));
    browser.Click("#set summary", "Sort");
    browser.Click("#set .menu-items button", "Tempo");
    browser.FindText("[data-item]", "1 Gangway at Dawn");
    browser.Click("[data-item] .row-title", "Overburden");
    browser.FindText(".rail", "Suggestions after track 2");
    Picture("set");
    browser.Leave(() => browser.Click(".rail a", "Beat and marks"));
    browser.Find("[data-beat-canvas][data-there]");
    browser.Click("[data-beat-do=Propose]");
    browser.Find("input[value='First beat']");
    browser.Script("document.querySelector('[data-beat-view]').focus()");
    browser.Press("+" + string.Concat(Enumerable.Repeat(OpenQA.Selenium.Keys.ArrowRight, 12)) + "m");
    browser.FindText(".mark-rows", "3");
    browser.Find("[data-beat-canvas][data-there]");
    Picture("beats");

    Album("Carbide");
    browser.Leave(() => browser.Click(".pick-bar button", "Edit tags"));
    browser.Leave(() => browser.Click(".tab-line a", "From names"));
    browser.FindText("td.new", "Seam of Light");
    Picture("tags-names");
    Album("Songs from the Winding House");
    browser.Leave(() => browser.Click(".pick-bar button", "Edit tags"));
    browser.Find("#grid[data-ready=true]");
    Type(4, 5, "Songs");
    Type(2, 4, "2019");
    browser.Press(OpenQA.Selenium.Keys.Home);
    Type(1, 2, "Tin Orchard");
    browser.FindText("#sheet-bar", "3 changes in 3 files");
    browser.Find("#grid[data-saved=true]");
    browser.FindText("#facts .is-changed", "Tin Orchard");
    Picture("tags-sheet");
    browser.Go("/bench/compare?words=tallow");
    browser.Leave(() => browser.Click(".bench-copies a", "FLAC"));
    browser.Leave(() => browser.Click(".bench-copies button", "MP3 192"));
    browser.Find("[data-bench][data-there='1']");
    browser.Script("document.querySelector('[data-bench-view]').focus()");
    browser.Press(string.Concat(Enumerable.Repeat(OpenQA.Selenium.Keys.ArrowRight, 8)));
    browser.Press(string.Concat(Enumerable.Repeat(OpenQA.Selenium.Keys.ArrowRight, 9)), OpenQA.Selenium.Keys.Shift);
    browser.FindText("[data-bench-spectrum-of]", "Mean spectrum from");
    browser.Script("document.getElementById('messages').replaceChildren()");
    Picture("bench");

    var place = Directory.CreateDirectory(Path.Combine(home, "Stick")).FullName;
    browser.Go("/deliver");
    browser.Click("button", "Add a stick");
    browser.Script(
        $"document.getElementById('stick-folder').value = '{place}'; document.getElementById('stick-device').value = 'dj-decks'; "
            + "document.getElementById('stick-name').value = 'Underlamp stick'");
    browser.Leave(() => browser.Click("#new-stick .btn-main", "Add stick"));
    browser.Leave(() => browser.Click(".add-list button", "Add set"));
    browser.Leave(() => browser.Click(".total-bar .btn-main", "Update stick"));
    browser.FindText(".verdict", "The stick can be unplugged.");
    browser.Leave(() => browser.Click(".facts a", "Open in the simulated deck"));
    browser.Change(".deck-rows tr:nth-child(2) select", "4");
    Browser.Until(
        () => browser.Script("return document.querySelector('.deck-rows tr:nth-child(2) option[selected]').value") is "4",
        "the rating on the stick");
    browser.Leave(() => browser.Click(".deck-rows tr:nth-child(3) .deck-place button", "Up"));
    Album("Night Shift at Pit Four");
    browser.Click(".pick-bar summary", "Deliver");
    browser.Leave(() => browser.Click(".menu-above button", "Stick “Underlamp stick”"));
    browser.FindText(".stick-changes", "order of the playlist");
    Picture("stick");

    Insert("B", "Spent Lime");
    browser.Leave(() => browser.Click("[data-read]"));
    browser.FindText(".verdict", "read back");
    Picture("disc-scratched");
    Insert("A", "Nine Gates");
    Picture("disc-surround");
    Insert("A", "The Long Shift");
    browser.Leave(() => browser.Click("[data-read]"));
    browser.Find("tr[data-track='4'][data-reading='Reading']");
    Picture("disc");

    Album("Live in the Slate Cavern");
    browser.Click(".pick-bar summary", "Deliver");
    browser.Leave(() => browser.Click(".menu-above button", "Audio disc"));
    browser.Leave(() => browser.Click(".shelf .rack-disc", "80 minutes"));
    browser.Leave(() => browser.Click(".total-bar .btn-main", "Burn disc"));
    Browser.Until(
        () =>
            browser.Script(
                "return [...document.querySelectorAll('.strip-once')].filter((part) => Number(part.getAttribute('width')) > 0).length > 2")
                as bool?,
        "two tracks to be burned");
    Picture("burn");

    Album("Live in the Slate Cavern");
    browser.Resize(390, 844);
    Picture("library-narrow");
    return 0;

    // Large enough to be caught in progress.
    string MakeLarge(string folder)
    {
        Directory.CreateDirectory(folder);
        foreach (var title in (string[])["Shaft", "Adit", "Level", "Winze", "Stope", "Sump", "Drift", "Raise"])
            File.WriteAllBytes(Path.Combine(folder, $"Memo, {title}.wav"), new byte[40_000_000]);
        File.WriteAllText(Path.Combine(folder, "memos.txt"), "Recorded on the bus.");
        return folder;
    }

    void Type(int row, int column, string text)
    {
        browser.Click($".grid-cell[data-row=\"{row}\"][data-column=\"{column}\"]");
        browser.Press(text + OpenQA.Selenium.Keys.Tab);
    }

    void Album(string title)
    {
        browser.Go("/library");
        browser.Leave(() => browser.Click(".album-card", title));
    }

    void Insert(string drive, string label)
    {
        browser.Go($"/intake/discs?drive={drive}");
        browser.Find("main h1");
        if (browser.All("#disc [data-open=rack]").Count > 0)
            browser.Click("[data-open=rack]");
        browser.Leave(() => browser.Click(".rack-disc", label));
        browser.Find("#disc-title");
        browser.FindText(".cover-card", "JPEG");
    }

    void Plan(string album, string target)
    {
        Album(album);
        browser.Leave(() => browser.Click("[data-convert]"));
        browser.Click(".target", target);
        browser.FindText("#settings-title", target);
    }

    void Picture(string name)
    {
        Browser.Until(
            () =>
                browser.Script("return document.fonts.status === 'loaded' && [...document.images].every(image => image.complete)") as bool?,
            "fonts and covers");
        browser.Picture(Path.Combine(pictures, name + ".png"));
        Console.WriteLine(name);
    }
}
finally
{
    Directory.Delete(home, recursive: true);
}
