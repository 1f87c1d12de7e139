using System.Diagnostics;
using System.Globalization;
using Wergamon.Codecs;
using Wergamon.Demo;
using Wergamon.Demo.Rack;

// Makes the demo music and the disc rack once and keeps them: Wergamon.Demo MUSIC-FOLDER RACK-FOLDER
const string Version = "8";
CultureInfo.DefaultThreadCurrentCulture = CultureInfo.CurrentCulture = CultureInfo.InvariantCulture;
if (args is not [var folder, var rack])
{
    Console.Error.WriteLine("Say where the demo goes: Wergamon.Demo MUSIC-FOLDER RACK-FOLDER");
    return 2;
}

if (LibAvPresence.Complaint() is { } complaint)
{
    Console.Error.WriteLine(complaint);
    return 3;
}

LibAvPresence.Silence();
var marker = Path.Combine(folder, ".made-by-demo");
var rackMarker = Path.Combine(rack, ".made-by-demo");
if (IsMade(marker) && IsMade(rackMarker))
    return 0;

var watch = Stopwatch.StartNew();
var writer = new DemoWriter(folder);
int count = writer.WriteAll(LanternQuarry.Albums);
writer.WriteDuplicates(LanternQuarry.Duplicates);
new RackWriter(rack).WriteAll(RackAlbums.All);
File.WriteAllText(marker, Version);
File.WriteAllText(rackMarker, Version);
Console.WriteLine($"Made {count} demo tracks and {RackAlbums.All.Count} discs in {watch.Elapsed.TotalSeconds:0.0} s");
return 0;

static bool IsMade(string marker) => File.Exists(marker) && File.ReadAllText(marker) == Version;
