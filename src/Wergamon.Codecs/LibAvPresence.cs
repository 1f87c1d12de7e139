namespace Wergamon.Codecs;

/// <summary>Checks that the libav libraries are installed in versions that the bindings were measured for.</summary>
public static class LibAvPresence
{
    /// <summary>Null when all are installed; otherwise what is missing and the command that installs it.</summary>
    public static string? Complaint() => LibAvLibraries.Installed is not null
        ? null
        : "The libraries of libav are missing. Install them: "
            + string.Join("; ", LibAvLibraries.Known.Select(release => $"on {release.Debian} with apt-get install {release.Packages}"));

    /// <summary>Keeps the libraries from writing to stderr; failures are reported by return codes.</summary>
    public static void Silence() => LibAv.av_log_set_level(LibAv.LogQuiet);
}
