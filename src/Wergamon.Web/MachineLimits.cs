using System.Globalization;

namespace Wergamon.Web;

/// <summary>What the system lets this process have, looked at before anything is done with it.</summary>
internal static class MachineLimits
{
    /// <summary>The server opens some 350 at its start; each listener, worker and run opens some more.</summary>
    private const int LeastFiles = 1000;

    /// <summary>For the server and one worker.</summary>
    private const long LeastBytes = 400_000_000;

    /// <summary>Why the server cannot run, for the person; null where it can.</summary>
    public static string? Problem()
    {
        if (MaxFiles() is { } files && files < LeastFiles)
            return $"Wergamon has to open {LeastFiles} files at once, and the system allows {files}. Raise that with “ulimit -n {4 * LeastFiles}”, or LimitNOFILE in the unit of the service, and start again.";
        long bytes = GC.GetGCMemoryInfo().TotalAvailableMemoryBytes;
        return bytes < LeastBytes
            ? $"Wergamon needs {LeastBytes / 1_000_000} MB of memory, and the system allows {bytes / 1_000_000} MB. Raise that, and start again."
            : null;
    }

    /// <summary>Null where there is no limit, or the system does not tell: proc(5), /proc/pid/limits.</summary>
    private static int? MaxFiles()
    {
        const string Name = "Max open files";
        const string Path = "/proc/self/limits";
        return File.Exists(Path) && File.ReadLines(Path).FirstOrDefault(line => line.StartsWith(Name, StringComparison.Ordinal)) is { } line
            && int.TryParse(line[Name.Length..].Split(' ', StringSplitOptions.RemoveEmptyEntries)[0], CultureInfo.InvariantCulture, out int files) ? files : null;
    }
}
