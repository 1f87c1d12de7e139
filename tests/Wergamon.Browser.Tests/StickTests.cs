namespace Wergamon.Browser.Tests;

/// <summary>A stick is added, filled from the library, opened on the simulated deck, changed there and read back.</summary>
public sealed class StickTests(Site site) : IClassFixture<Site>
{
    [Fact]
    public void A_stick_is_filled_changed_on_the_deck_and_read_back()
    {
        var browser = site.Browser;
        var place = Directory.CreateDirectory(site.Folder("lamp stick")).FullName;
        browser.Go("/deliver");
        browser.Click("button", "Add a stick");
        browser.Script(
            $"document.getElementById('stick-folder').value = '{place}'; document.getElementById('stick-device').value = 'dj-decks'");
        browser.Leave(() => browser.Click("#new-stick .btn-main", "Add stick"));
        browser.FindText("h1", "lamp stick");
        browser.FindText(".empty", "Add sets, albums and picked tracks to this stick");
        var stick = new Uri(browser.Address).AbsolutePath;

        browser.Go("/library/tracks?words=underlamp&sort=title");
        browser.FindText(".list-rows [data-row]", "Gangway at Dawn");
        browser.Press("jx" + "jx" + "jx");
        browser.FindText(".pick-count", "3 tracks picked");
        browser.Click(".list-form summary", "Deliver");
        browser.Leave(() => browser.Click(".list-form .menu-above button", "Stick “lamp stick”"));
        browser.FindText(".chip", "To do 4");
        Assert.Equal(["add", "add", "add", "add"], browser.Texts(".stick-state"));
        browser.Leave(() => browser.Click(".total-bar .btn-main", "Update stick"));
        browser.FindText(".verdict", "4 files written and read back. The stick can be unplugged.");
        Assert.Equal(
            4, Directory.EnumerateFiles(place, "*", SearchOption.AllDirectories).Count(path => !Path.GetFileName(path).StartsWith('.')));

        browser.Leave(() => browser.Click(".facts a", "Open in the simulated deck"));
        browser.FindText(".deck-rows tr:nth-child(1) .row-title", "Gangway at Dawn");
        browser.Click(".deck-rows tr:nth-child(1) [data-deck-play]");
        Testing.Browser.Until(
            () => browser.Script("return document.querySelector('[data-deck-audio]').currentTime > 0.3") is true, "the deck to play");
        browser.Click(".deck-rows tr:nth-child(1) .deck-mark button", "Mark here");
        browser.FindText(".deck-rows tr:nth-child(1)", "00:0");
        // The page is renewed beside the player, which plays on.
        Assert.True(browser.Script("return !document.querySelector('[data-deck-audio]').paused") is true);
        browser.Change(".deck-rows tr:nth-child(2) select", "4");
        Testing.Browser.Until(
            () => browser.Script("return document.querySelector('.deck-rows tr:nth-child(2) option[selected]').value") is "4",
            "the rating on the stick");
        browser.Click(".deck-rows tr:nth-child(1) .deck-grid button", "Beat here");
        browser.FindText(".deck-rows tr:nth-child(1) .deck-grid", " s");
        browser.Change(".deck-rows tr:nth-child(1) [name=tempo]", "500");
        browser.FindText("#deck-tracks [role=alert]", "between 20 and 400 BPM");
        browser.Change(".deck-rows tr:nth-child(1) [name=tempo]", "123.5");
        Testing.Browser.Until(() => browser.All("#deck-tracks [role=alert]").Count == 0, "the tempo on the stick");
        browser.Leave(() => browser.Click(".deck-rows tr:nth-child(3) .deck-place button", "Up"));
        browser.FindText(".deck-rows tr:nth-child(2) .row-title", "Midsummer in the Old Pit");

        browser.Leave(() => browser.Click("a", "Back to the stick"));
        browser.FindText(".stick-changes tr[data-change='order']", "Gangway at Dawn, Midsummer in the Old Pit, Lantern, фонарь, 灯火");
        browser.FindText(".stick-changes tr[data-change='rating']", "4");
        browser.FindText(".stick-changes tr[data-change='chapters']", "Gangway at Dawn");
        browser.FindText(".stick-changes tr[data-change='tempo']", "123.5");
        browser.FindText(".stick-changes tr[data-change='first beat']", "Gangway at Dawn");
        browser.Leave(() => browser.Click("button", "Apply choices"));
        Testing.Browser.Until(() => browser.All(".stick-changes").Count == 0, "all decisions");
        browser.Leave(() => browser.Click(".total-bar .btn-main", "Update stick"));
        browser.FindText(".lead", "Everything on the stick is up to date.");

        // The device can be another one; what that changes is shown before it is done.
        browser.Change("#device", "car-radio");
        browser.FindText(".chip", "to remove");
        browser.FindText(".stick-rows", "MP3 256");
        Assert.Equal(stick, new Uri(browser.Address).AbsolutePath);
    }
}
