using Wergamon.Testing;

namespace Wergamon.Browser.Tests;

/// <summary>The application on demo data with a browser, shared by the tests of a class.</summary>
public class Site : IDisposable
{
    private readonly TemporaryFolder _folder = new();
    private readonly double _speedup;
    private WebServer _server;

    /// <summary>A site on the demo music.</summary>
    public Site(ReadDemo demo)
        : this(demo, 6)
    {
    }

    /// <param name="demo">The demo music, read before.</param>
    /// <param name="speedup">Speed factor of the simulated drives against real ones.</param>
    protected Site(ReadDemo demo, double speedup)
        : this(
            folder =>
            {
                demo.CopyTo(folder["data"]);
                return WebServer.DemoMusic;
            },
            speedup)
    {
    }

    /// <summary>A site that reads its music at the start.</summary>
    /// <param name="music">Makes the first music folder, below the folder given.</param>
    /// <param name="speedup">Speed factor of the simulated drives against real ones.</param>
    protected Site(Func<TemporaryFolder, string> music, double speedup = 6)
    {
        _speedup = speedup;
        Music = music(_folder);
        _server = new WebServer(DataFolder, Music, _folder.Path, speedup);
        Browser = new Testing.Browser(_server.Address);
        WaitForMusic();
    }

    public Testing.Browser Browser { get; private set; }

    /// <summary>The first music folder.</summary>
    public string Music { get; }

    public string DataFolder => _folder["data"];

    public Uri Address => _server.Address;

    /// <summary>A folder that may be written to.</summary>
    public string Folder(string name) => _folder[name];

    /// <summary>Kills the server, as a power cut would, and starts another on the same data.</summary>
    public void PowerCut(Action between)
    {
        _server.KillHard();
        Browser.Dispose();
        between();
        _server = new WebServer(DataFolder, Music, _folder.Path, _speedup);
        Browser = new Testing.Browser(_server.Address);
    }

    /// <summary>Opens an album from the list of all.</summary>
    public void OpenAlbum(string title) =>
        // While copies are still being joined, albums move in the list, and a click may hit the next one.
        Testing.Browser.Until(
            () =>
            {
                Browser.Go("/library");
                Browser.Leave(() => Browser.Click(".album-card", title));
                return Browser.TextOf("h1") == title;
            },
            $"the album {title}");

    /// <summary>Opens the album and presses its Convert button; the plan is shown afterwards.</summary>
    public void PlanAlbum(string title, string outputFolder)
    {
        OpenAlbum(title);
        Browser.Leave(() => Browser.Click("[data-convert]"));
        Browser.Change("#folder", outputFolder);
        Browser.FindText("#folder-hint", outputFolder);
    }

    public void ChooseTarget(string name)
    {
        Browser.Click(".target", name);
        Browser.FindText(".target.is-chosen", name);
        Browser.FindText("#settings-title", name);
    }

    public void StartRun() => Browser.Leave(() => Browser.Click(".total-bar .btn-main"));

    public void WaitForEnd() => Browser.Find("#run[data-state=done]");

    public void Dispose()
    {
        GC.SuppressFinalize(this);
        Browser.Dispose();
        _server.Dispose();
        _folder.Dispose();
    }

    private void WaitForMusic()
    {
        Browser.Go("/library/folders");
        Browser.FindText("#folders", "All read");
    }
}
