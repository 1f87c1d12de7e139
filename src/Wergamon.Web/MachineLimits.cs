using System.Globalization;

namespace Wergamon.Web;

/// <summary>The system's limits for this process, checked before anything else.</summary>
internal static class MachineLimits
{
    /// <summary>The server opens about 350 when it starts; each listener, worker and run needs more.</summary>
    private const int LeastFiles = 1000;

    /// <summary>For the server and one worker.</summary>
    private const long LeastBytes = 400_000_000;

    /// <summary>Why the server cannot run, for the person; null when it can.</summary>
    public static string? Problem()
    {
        if (MaxFiles() is { } files && files < LeastFiles)
        {
            return $"Wergamon needs to open {LeastFiles} files at once, but the system allows only {files}. "
                + $"Raise the limit with “ulimit -n {4 * LeastFiles}”, or LimitNOFILE in the service unit, and start again.";
        }

        long bytes = GC.GetGCMemoryInfo().TotalAvailableMemoryBytes;
        return bytes < LeastBytes
            ? $"Wergamon needs {LeastBytes / 1_000_000} MB of memory, but the system allows only {bytes / 1_000_000} MB. "
                + "Raise the limit and start again."
            : null;
    }

    /// <summary>Null if there is no limit, or it is unknown: proc(5), /proc/pid/limits.</summary>
    private static int? MaxFiles()
    {
        const string Name = "Max open files";
        const string Path = "/proc/self/limits";
        if (!File.Exists(Path)
            || File.ReadLines(Path).FirstOrDefault(each => each.StartsWith(Name, StringComparison.Ordinal)) is not { } line)
            return null;
        var soft = line[Name.Length..].Split(' ', StringSplitOptions.RemoveEmptyEntries)[0];
        return int.TryParse(soft, CultureInfo.InvariantCulture, out int files) ? files : null;
    }
}
