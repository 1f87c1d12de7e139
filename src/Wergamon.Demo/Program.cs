using System.Diagnostics;
using System.Globalization;
using Wergamon.Codecs;
using Wergamon.Demo;

// Makes the demo music once and keeps it: Wergamon.Demo FOLDER
const string Version = "1";
CultureInfo.DefaultThreadCurrentCulture = CultureInfo.CurrentCulture = CultureInfo.InvariantCulture;
if (args is not [var folder])
{
    Console.Error.WriteLine("Say where the demo music goes: Wergamon.Demo FOLDER");
    return 2;
}

if (LibAvPresence.Complaint() is { } complaint)
{
    Console.Error.WriteLine(complaint);
    return 3;
}

LibAvPresence.Silence();
var marker = Path.Combine(folder, ".made-by-demo");
if (File.Exists(marker) && File.ReadAllText(marker) == Version)
    return 0;

var watch = Stopwatch.StartNew();
int count = new DemoWriter(folder).WriteAll(LanternQuarry.Albums);
File.WriteAllText(marker, Version);
Console.WriteLine($"Made {count} demo tracks in {watch.Elapsed.TotalSeconds:0.0} s in {folder}");
return 0;
