using Wergamon.Testing;

namespace Wergamon.Browser.Tests;

/// <summary>A copy of part of the demo, since its files are written to.</summary>
public sealed class TagSite() : Site(folder => FileTree.CopyDemoMusic(folder["music"], "The Quarry Lamps", "Odalys Fenn - Carbide (2024)"))
{
    public IReadOnlyList<string> Files(string pattern) =>
        [.. Directory.GetFiles(Music, pattern, SearchOption.AllDirectories).Order(StringComparer.Ordinal)];
}
