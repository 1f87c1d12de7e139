namespace Wergamon.Browser.Tests;

/// <summary>Things chosen instead of typed: a folder, the theme.</summary>
public sealed class ChoiceTests(Site site) : IClassFixture<Site>
{
    [Fact]
    public void A_folder_is_chosen_by_browsing()
    {
        var browser = site.Browser;
        Directory.CreateDirectory(Path.Combine(site.Folder("shelf"), "Box 1", "Old tapes"));
        browser.Go("/library/folders");
        browser.Script("document.getElementById('path').value = arguments[0]", site.Folder("shelf"));
        browser.Click("[data-browse=path]");
        browser.Click(".folder-choices button", "Box 1");
        browser.Click(".folder-choices button", "Old tapes");
        browser.FindText("#folder-browser", "No folders here.");
        browser.Click("[data-choose-path]", "Choose Old tapes");
        Testing.Browser.Until(
            () =>
                (string?)browser.Script(
                    "return document.getElementById('path').value") == Path.Combine(site.Folder("shelf"), "Box 1", "Old tapes"),
            "the path in its field");
        browser.Leave(() => browser.Click(".add-folder .btn-main"));
        browser.FindText("#folders", "Old tapes");
        Assert.Empty(browser.Complaints());
    }

    [Fact]
    public void The_chosen_theme_holds_until_the_system_decides_again()
    {
        var browser = site.Browser;
        browser.Go("/library/tracks");
        Choose("Dark");
        Assert.Equal("rgb(20, 25, 31)", Background());
        browser.Go("/intake");
        Assert.Equal("rgb(20, 25, 31)", Background());
        Choose("Light");
        Assert.Equal("rgb(243, 244, 240)", Background());
        Choose("System");
        Assert.Equal("rgb(243, 244, 240)", Background());

        void Choose(string theme)
        {
            browser.Click(".theme-menu summary");
            browser.Leave(() => browser.Click(".theme-menu button", theme));
            browser.Find("#stations");
        }

        string? Background() => (string?)browser.Script("return getComputedStyle(document.body).backgroundColor");
    }
}
