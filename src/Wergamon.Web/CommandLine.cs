using System.Globalization;
using Wergamon.App;

namespace Wergamon.Web;

/// <summary>What the server was started with.</summary>
/// <param name="FirstFolders">Music folders for a library that has none yet.</param>
internal sealed record CommandLine(int Port, AppOptions Options, string WebRoot, IReadOnlyList<string> FirstFolders)
{
    public const string Usage =
        """
        Wergamon.Web [--port 5080] [--data FOLDER] [--allow FOLDER]... [--music FOLDER]... [--workers N] [--rack FOLDER] [--quicken N]
          --port     where to listen on 127.0.0.1
          --data     the application's own folder
          --allow    music folders may lie below this folder too (the home folder is always allowed)
          --music    the music folder of a library that has none yet
          --workers  how many tracks are worked on at a time
          --rack     the folder of the simulated discs
          --quicken  how many times quicker than real ones the simulated drives work
        """;

    private const int DefaultPort = 5080;

    /// <summary>Null when the words are not understood.</summary>
    public static CommandLine? Read(IReadOnlyList<string> words)
    {
        int port = DefaultPort, workers = Environment.ProcessorCount;
        double quickness = 1;
        var data = Path.GetFullPath("data");
        string? rack = null;
        var allowed = new List<string> { Environment.GetFolderPath(Environment.SpecialFolder.UserProfile) };
        var music = new List<string>();
        for (int i = 0; i < words.Count; i += 2)
        {
            if (i + 1 == words.Count)
                return null;
            var value = words[i + 1];
            switch (words[i])
            {
                case "--port" when int.TryParse(value, NumberStyles.None, CultureInfo.InvariantCulture, out port):
                case "--workers" when int.TryParse(value, NumberStyles.None, CultureInfo.InvariantCulture, out workers) && workers > 0:
                    break;
                case "--quicken" when double.TryParse(value, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out quickness) && quickness > 0:
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

        var options = new AppOptions { DataFolder = data, AllowedBases = allowed, WorkerPath = FindWorker(), WorkerCount = workers, RackFolder = rack ?? Path.Combine(data, "rack"), DriveQuickness = quickness };
        return new CommandLine(port, options, Path.Combine(AppContext.BaseDirectory, "wwwroot"), music);
    }

    /// <summary>The worker is built into the folder beside ours, in the same configuration.</summary>
    private static string FindWorker()
    {
        var here = new DirectoryInfo(AppContext.BaseDirectory.TrimEnd('/'));
        return Path.Combine(here.Parent!.Parent!.FullName, "Wergamon.Worker", here.Name, "Wergamon.Worker.dll");
    }
}
