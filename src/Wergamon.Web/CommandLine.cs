using System.Globalization;
using Wergamon.App;
using Wergamon.Core.Audio;

namespace Wergamon.Web;

/// <summary>What the server was started with.</summary>
/// <param name="FirstFolders">Music folders for a library that has none yet.</param>
internal sealed record CommandLine(int Port, AppOptions Options, string WebRoot, IReadOnlyList<string> FirstFolders)
{
    public const string Usage =
        """
        Wergamon.Web [--port 5080] [--data FOLDER] [--allow FOLDER]... [--music FOLDER]... [--workers N] [--rack FOLDER] [--drive-speed N] [--restore | --new-library]
          --port         where to listen on 127.0.0.1
          --data         the application's own folder
          --allow        music folders may lie below this folder too (the home folder is always allowed)
          --music        the music folder of a library that has none yet
          --workers      how many tracks are worked on at a time
          --rack         the folder of the simulated discs
          --drive-speed  how many times as fast as real drives the simulated ones work
          --restore      goes back to the last backup of a database that is lost or damaged
          --new-library  begins with an empty library though there is a backup of an older one
        """;

    private const int DefaultPort = 5080, MaxPort = 65_535;

    private const double MaxSpeedup = 1e9;

    /// <summary>Null when the arguments are not understood.</summary>
    public static CommandLine? Read(IReadOnlyList<string> arguments)
    {
        int port = DefaultPort, workers = Environment.ProcessorCount;
        double speedup = 1;
        var data = Path.GetFullPath("data");
        string? rack = null;
        var allowed = new List<string> { Environment.GetFolderPath(Environment.SpecialFolder.UserProfile) };
        var music = new List<string>();
        var startWith = StartWith.Undecided;
        for (int i = 0; i < arguments.Count; i += 2)
        {
            if (arguments[i] is "--restore" or "--new-library")
            {
                startWith = arguments[i] == "--restore" ? StartWith.Backup : StartWith.NewLibrary;
                i--;
                continue;
            }

            if (i + 1 == arguments.Count)
                return null;
            var value = arguments[i + 1];
            switch (arguments[i])
            {
                case "--port" when int.TryParse(value, NumberStyles.None, CultureInfo.InvariantCulture, out port) && port is > 0 and <= MaxPort:
                case "--workers" when int.TryParse(value, NumberStyles.None, CultureInfo.InvariantCulture, out workers) && workers > 0:
                    break;
                case "--drive-speed" when double.TryParse(value, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out speedup) && speedup is > 0 and < MaxSpeedup:
                    break;
                case "--rack":
                    rack = Path.GetFullPath(value);
                    break;
                case "--data":
                    data = Path.GetFullPath(value);
                    break;
                case "--allow":
                    allowed.Add(Path.GetFullPath(value));
                    break;
                case "--music":
                    music.Add(Path.GetFullPath(value));
                    break;
                default:
                    return null;
            }
        }

        var options = new AppOptions { DataFolder = data, AllowedBases = allowed, WorkerPath = FindWorker(), WorkerCount = workers, RackFolder = rack ?? Path.Combine(data, "rack"), DriveSpeedup = speedup, StartWith = startWith };
        return new CommandLine(port, options, Path.Combine(AppContext.BaseDirectory, "wwwroot"), music);
    }

    /// <summary>The worker is built into the folder beside ours, in the same configuration.</summary>
    private static string FindWorker()
    {
        var here = new DirectoryInfo(AppContext.BaseDirectory.TrimEnd('/'));
        return Path.Combine(here.Parent!.Parent!.FullName, "Wergamon.Worker", here.Name, "Wergamon.Worker.dll");
    }
}
