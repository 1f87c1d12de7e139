namespace Wergamon.Browser.Tests;

/// <summary>Drives slow enough that a rip is still going on when a slow browser has loaded its page.</summary>
public sealed class SlowDrives(ReadDemo demo) : Site(demo, speedup: 1.5);
