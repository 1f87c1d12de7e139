using Wergamon.Core.Audio;

namespace Wergamon.Codecs;

/// <summary>Checks that the libav libraries are installed in the versions that the bindings were measured for.</summary>
public static class LibAvPresence
{
    private static readonly (string Package, string Library, uint Major, Func<uint> Version)[] Needed =
    [
        ("libavutil57", "libavutil", LibAvLayout.UtilMajor, LibAv.avutil_version),
        ("libavcodec59", "libavcodec", LibAvLayout.CodecMajor, LibAv.avcodec_version),
        ("libavformat59", "libavformat", LibAvLayout.FormatMajor, LibAv.avformat_version),
    ];

    /// <summary>Null when all is well; otherwise what is missing and the command that installs it.</summary>
    public static string? Complaint()
    {
        var missing = new List<string>();
        foreach (var (package, library, major, version) in Needed)
        {
            try
            {
                uint found = version() >> 16;
                if (found != major)
                    return $"{library} has version {found}; this program needs version {major}, the one of Debian 12 (package {package}).";
            }
            catch (DllNotFoundException)
            {
                missing.Add(package);
            }
        }

        return missing.Count == 0 ? null : $"Missing: {string.Join(", ", missing)}. Install with: apt-get install {string.Join(' ', missing)}";
    }

    /// <summary>Keeps the libraries from writing to stderr; failures are reported by return codes.</summary>
    public static void Silence() => LibAv.av_log_set_level(LibAv.LogQuiet);
}
