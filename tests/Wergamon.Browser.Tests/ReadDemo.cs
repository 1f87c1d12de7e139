using Wergamon.Testing;

[assembly: AssemblyFixture(typeof(Wergamon.Browser.Tests.ReadDemo))]

namespace Wergamon.Browser.Tests;

/// <summary>The data folder of a server that has read and analysed the demo music, made once and copied for each site.</summary>
public sealed class ReadDemo : IDisposable
{
    private readonly TemporaryFolder _folder = new();

    public ReadDemo()
    {
        using var server = new WebServer(_folder["data"], WebServer.DemoMusic, _folder.Path);
        using var client = new HttpClient { BaseAddress = server.Address };
        Testing.Browser.Until(
            () => Page("/library/folders").Contains("All read", StringComparison.Ordinal) && Page("/library/duplicates") is var page
            && page.Contains("duplicate-kinds", StringComparison.Ordinal)
                && !page.Contains("still to be analysed", StringComparison.Ordinal),
            "the demo music to be analysed");

        string Page(string path) => client.GetStringAsync(new Uri(path, UriKind.Relative)).GetAwaiter().GetResult();
    }

    public void CopyTo(string dataFolder) => FileTree.Copy(_folder["data"], dataFolder);

    public void Dispose() => _folder.Dispose();
}
