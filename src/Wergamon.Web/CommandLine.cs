using System.ComponentModel.DataAnnotations;
using Wergamon.App.Files;
using Wergamon.App.Storage;

namespace Wergamon.Web;

/// <summary>What the server was started with.</summary>
/// <param name="FirstFolders">Music folders for a library that has none yet.</param>
internal sealed record CommandLine(int Port, AppOptions Options, string WebRoot, IReadOnlyList<string> FirstFolders)
{
    public const string Usage =
        """
        Wergamon.Web [--port 5080] [--data FOLDER] [--allow FOLDER]... [--music FOLDER]... [--demo FOLDER]
            [--workers N] [--rack FOLDER] [--drive-speed N] [--restore | --restore-from NAME | --new-library]
          --port         where to listen on 127.0.0.1
          --data         the application's own folder
          --allow        music folders may lie below this folder too (the home folder is always allowed)
          --music        the music folder of a library that has none yet
          --demo         the folder of the demo music, with which a new library begins
          --workers      how many tracks are worked on at a time
          --rack         the folder of the simulated discs
          --drive-speed  how many times as fast as real drives the simulated ones work
          --restore      goes back to the newest backup of the database; what is there now is set aside
          --restore-from goes back to the backup of this name
          --new-library  begins with an empty library though there is a backup of an older one
        """;

    /// <summary>Arguments without a value.</summary>
    private static readonly HashSet<string> Switches = ["--restore", "--new-library"];

    /// <summary>Arguments that may come several times.</summary>
    private static readonly HashSet<string> Lists = ["--allow", "--music"];

    private static readonly Dictionary<string, string> Names = new()
    {
        ["--drive-speed"] = nameof(Settings.DriveSpeed),
        ["--new-library"] = nameof(Settings.NewLibrary),
        ["--restore-from"] = nameof(Settings.RestoreFrom),
    };

    /// <summary>Null when the arguments are not understood.</summary>
    public static CommandLine? Read(IReadOnlyList<string> arguments)
    {
        var pairs = Pairs(arguments).ToList();
        var configuration = new ConfigurationBuilder().AddCommandLine([.. pairs], Names).Build();
        // The provider skips an argument without a value.
        if (configuration.AsEnumerable().Count(pair => pair.Value is not null) != pairs.Count)
            return null;
        try
        {
            var settings = configuration.Get<Settings>(binder => binder.ErrorOnUnknownConfiguration = true) ?? new Settings();
            Validator.ValidateObject(settings, new ValidationContext(settings), validateAllProperties: true);
            return From(settings);
        }
        catch (Exception failure) when (failure is InvalidOperationException or ValidationException)
        {
            return null;
        }
    }

    /// <summary>Each argument with its value as "--name=value", those of a list numbered.</summary>
    private static IEnumerable<string> Pairs(IReadOnlyList<string> arguments)
    {
        for (int i = 0; i < arguments.Count; i++)
        {
            if (Switches.Contains(arguments[i]))
                yield return arguments[i] + "=true";
            else if (i + 1 == arguments.Count || !arguments[i].StartsWith("--", StringComparison.Ordinal))
                yield return arguments[i];
            else
                yield return $"{arguments[i]}{(Lists.Contains(arguments[i]) ? $":{i}" : "")}={arguments[++i]}";
        }
    }

    private static CommandLine From(Settings settings)
    {
        var data = Real(settings.Data);
        var demo = settings.Demo is { } folder ? Real(folder) : null;
        string[] allowed = [
            Environment.GetFolderPath(Environment.SpecialFolder.UserProfile), .. settings.Allow.Select(Path.GetFullPath),
            .. demo is null ? [] : new[] { demo }
        ];
        var options = new AppOptions
        {
            DataFolder = data,
            DataFolderLink = Path.GetFullPath(settings.Data).TrimEnd('/') is var named && named != data ? named : null,
            AllowedBases = allowed,
            WorkerPath = FindWorker(),
            WorkerCount = settings.Workers,
            RackFolder = settings.Rack is { } rack ? Real(rack) : Path.Combine(data, "rack"),
            DriveSpeedup = settings.DriveSpeed,
            DemoFolder = demo,
            RestoreFrom = settings.RestoreFrom,
            StartWith = settings.Restore || settings.RestoreFrom is not null
                ? StartWith.Backup
                : settings.NewLibrary
                ? StartWith.NewLibrary
                : StartWith.Undecided,
        };
        return new CommandLine(
            settings.Port, options, Path.Combine(AppContext.BaseDirectory, "wwwroot"), [.. settings.Music.Select(Path.GetFullPath)]);
    }

    /// <summary>The folder itself: links in the given path are followed once, and never later.</summary>
    private static string Real(string path) => AllowedPaths.Resolve(Path.GetFullPath(path)) ?? Path.GetFullPath(path);

    /// <summary>The worker is built in the folder beside this one, in the same configuration.</summary>
    private static string FindWorker()
    {
        var here = new DirectoryInfo(AppContext.BaseDirectory.TrimEnd('/'));
        return Path.Combine(here.Parent!.Parent!.FullName, "Wergamon.Worker", here.Name, "Wergamon.Worker.dll");
    }

    /// <summary>The arguments by name, with defaults.</summary>
    private sealed class Settings
    {
        [Range(1, 65_535)]
        public int Port { get; set; } = 5080;

        public string Data { get; set; } = "data";

        public string[] Allow { get; set; } = [];

        public string[] Music { get; set; } = [];

        public string? Demo { get; set; }

        [Range(1, 1024)]
        public int Workers { get; set; } = Environment.ProcessorCount;

        public string? Rack { get; set; }

        [Range(0.001, 1e9)]
        public double DriveSpeed { get; set; } = 1;

        public bool Restore { get; set; }

        public string? RestoreFrom { get; set; }

        public bool NewLibrary { get; set; }
    }
}
