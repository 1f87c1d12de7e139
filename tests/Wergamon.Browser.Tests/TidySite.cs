using Wergamon.Testing;

namespace Wergamon.Browser.Tests;

/// <summary>The demo's duplicates on a copy of the demo, since files are removed.</summary>
public sealed class TidySite() : Site(folder => FileTree.CopyDemoMusic(folder["music"], "The Quarry Lamps", "Old laptop"));
