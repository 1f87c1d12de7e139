using OpenQA.Selenium;

namespace Wergamon.Browser.Tests;

/// <summary>A disc is planned from the library, put in order, burned, printed and ripped again.</summary>
public sealed class DeliverTests(SlowDrives site) : IClassFixture<SlowDrives>
{
    [Fact]
    public void A_disc_is_planned_burned_and_ripped_again()
    {
        var browser = site.Browser;
        browser.Go("/library/tracks?words=underlamp&sort=title");
        browser.FindText(".list-rows [data-row]", "Gangway at Dawn");
        browser.Press("jx" + "jx" + "jx");
        browser.FindText(".pick-count", "3 tracks picked");
        browser.Click(".list-form summary", "Deliver");
        browser.Leave(() => browser.Click(".list-form .menu-above button", "Audio disc"));
        browser.FindText("h1", "Underlamp Club, June");
        var disc = new Uri(browser.Address).AbsolutePath;
        Assert.Equal(["Gangway at Dawn", "Lantern, фонарь, 灯火", "Midsummer in the Old Pit"], Titles());
        browser.FindText("[data-item]", "Reads “Lantern, ??????, ??”");

        // By keys: the last goes to the front.
        browser.Script(
            "[...document.querySelectorAll('[data-item] [data-row]')].find((row) => row.textContent.includes('Midsummer')).focus()");
        browser.Press(Keys.ArrowUp + Keys.ArrowUp, Keys.Alt);
        Testing.Browser.Until(() => Titles()[0] == "Midsummer in the Old Pit", "the last track at the front");
        // Pauses move the starts, and a title of its own is shorter.
        browser.Change("#pause-seconds", "2");
        browser.FindText("[data-item]", "00:02:00");
        browser.Click("[data-item] .row-title", "Lantern");
        browser.FindText("#track-title", "Track 3");
        browser.Change("#own-title", "Lantern");
        Testing.Browser.Until(() => Titles()[2] == "Lantern", "the title for the disc");

        browser.Leave(() => browser.Click(".total-bar .btn-main", "Burn disc"));
        browser.FindText("[role=alert]", "Put a blank disc into Burner C first.");
        browser.Leave(() => browser.Click(".shelf .rack-disc", "80 minutes"));
        browser.FindText(".burner-disc", "Blank, room for 79:57:74");
        browser.Leave(() => browser.Click(".total-bar .btn-main", "Burn disc"));
        browser.FindText("#run-pill", "Burning");
        Testing.Browser.Until(() => Filled() > 0, "the strip to fill");
        browser.FindText(".verdict", "The disc was burned and read back: every sample is equal.");
        browser.FindText(".burner", "Empty. Put a disc in");

        browser.Leave(() => browser.Click(".title-links a", "Print"));
        Assert.Equal(["120.0", "151.0"], new[] { ".print-front", ".print-tray" }.Select(Millimetres));
        Assert.Contains("Lantern", browser.TextOf(".print-back"), StringComparison.Ordinal);

        browser.Go("/intake/discs?drive=B");
        browser.Leave(() => browser.Click(".rack-disc", "Underlamp Club, June"));
        browser.FindText("tr[data-track='3']", "Lantern");
        browser.FindText("h1", "Underlamp Club, June");
        browser.Go(disc);
        browser.Script("window.confirm = () => true");
        browser.Leave(() => browser.Click("button", "Remove the plan"));
        browser.FindText("h2", "Burned discs");
    }

    private List<string> Titles() => [.. site.Browser.Texts("[data-item] .row-title")];

    private string Millimetres(string selector) => System.Convert.ToDouble(
        site.Browser.Script($"return document.querySelector('{selector}').getBoundingClientRect().width * 25.4 / 96"),
        System.Globalization.CultureInfo.InvariantCulture).ToString("0.0", System.Globalization.CultureInfo.InvariantCulture);

    private double Filled() => System.Convert.ToDouble(
        site.Browser.Script(
            "return [...document.querySelectorAll('.strip-once')].reduce((sum, part) => sum + Number(part.getAttribute('width')), 0)"),
        System.Globalization.CultureInfo.InvariantCulture);
}
