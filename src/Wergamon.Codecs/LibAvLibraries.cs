using System.Reflection;
using System.Runtime.InteropServices;

namespace Wergamon.Codecs;

/// <summary>The libraries of libav as a Debian release ships them, by their major versions.</summary>
internal sealed record LibAvRelease(string Debian, uint Codec, uint Format, uint Util)
{
    public string Packages => $"libavcodec{Codec} libavformat{Format} libavutil{Util}";
}

/// <summary>Finds the libraries that are installed; <see cref="LibAvLayout"/> has a column for each release.</summary>
internal static class LibAvLibraries
{
    public const string Codec = "avcodec";
    public const string Format = "avformat";
    public const string Util = "avutil";

    public static IReadOnlyList<LibAvRelease> Known { get; } = [new("Debian 12", 59, 59, 57), new("Debian 13", 61, 61, 59)];

    /// <summary>The release whose libraries are all installed; null when there is none.</summary>
    public static LibAvRelease? Installed { get; } = Known.FirstOrDefault(release =>
        NativeLibrary.TryLoad(FileOf(Util, release), out _) && NativeLibrary.TryLoad(FileOf(Codec, release), out _)
            && NativeLibrary.TryLoad(FileOf(Format, release), out _));

    /// <summary>The index of the installed release among the known ones.</summary>
    public static int Column { get; } = Installed == Known[1] ? 1 : 0;

    /// <summary>Loads a library by its name without version.</summary>
    public static nint Resolve(string name, Assembly assembly, DllImportSearchPath? path) =>
        Installed is { } release && name is Codec or Format or Util ? NativeLibrary.Load(FileOf(name, release)) : 0;

    private static string FileOf(string name, LibAvRelease release) =>
        $"lib{name}.so.{name switch { Codec => release.Codec, Format => release.Format, _ => release.Util }}";
}
