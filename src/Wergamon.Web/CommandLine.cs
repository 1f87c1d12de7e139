using System.CommandLine;
using Wergamon.App.Files;
using Wergamon.App.Storage;

namespace Wergamon.Web;

/// <summary>What the server was started with.</summary>
/// <param name="FirstFolders">Music folders for a library that has none yet.</param>
internal sealed record CommandLine(int Port, AppOptions Options, string WebRoot, IReadOnlyList<string> FirstFolders)
{
    /// <param name="arguments">Without errors.</param>
    public static CommandLine From(ParseResult arguments)
    {
        var named = Path.GetFullPath(arguments.GetRequiredValue(ServerArguments.Data));
        var data = Real(named);
        var demo = arguments.GetValue(ServerArguments.Demo) is { } folder ? Real(folder) : null;
        string[] allowed = [
            Environment.GetFolderPath(Environment.SpecialFolder.UserProfile),
            .. arguments.GetRequiredValue(ServerArguments.Allow).Select(Path.GetFullPath),
            .. demo is null ? [] : new[] { demo }
        ];
        var backup = arguments.GetValue(ServerArguments.RestoreFrom);
        var options = new AppOptions
        {
            DataFolder = data,
            DataFolderLink = named.TrimEnd('/') is var link && link != data ? link : null,
            AllowedBases = allowed,
            WorkerPath = FindWorker(),
            WorkerCount = arguments.GetValue(ServerArguments.Workers),
            RackFolder = arguments.GetValue(ServerArguments.Rack) is { } rack ? Real(rack) : Path.Combine(data, "rack"),
            DriveSpeedup = arguments.GetValue(ServerArguments.DriveSpeed),
            DemoFolder = demo,
            RestoreFrom = backup,
            StartWith = backup is not null || arguments.GetValue(ServerArguments.Restore) ? StartWith.Backup
                : arguments.GetValue(ServerArguments.NewLibrary) ? StartWith.NewLibrary
                : StartWith.Undecided,
        };
        return new CommandLine(
            arguments.GetValue(ServerArguments.Port), options, Path.Combine(AppContext.BaseDirectory, "wwwroot"),
            [.. arguments.GetRequiredValue(ServerArguments.Music).Select(Path.GetFullPath)]);
    }

    /// <summary>The folder itself: links in the given path are followed once, and never later.</summary>
    private static string Real(string path) => AllowedPaths.Resolve(Path.GetFullPath(path)) ?? Path.GetFullPath(path);

    /// <summary>The worker is built in the folder beside this one, in the same configuration.</summary>
    private static string FindWorker()
    {
        var here = new DirectoryInfo(AppContext.BaseDirectory.TrimEnd('/'));
        return Path.Combine(here.Parent!.Parent!.FullName, "Wergamon.Worker", here.Name, "Wergamon.Worker.dll");
    }
}
