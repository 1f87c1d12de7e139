using System.Reflection;
using System.Runtime.InteropServices;

namespace Wergamon.Codecs;

/// <summary>The functions of libmpg123 that are used, bound by hand.</summary>
internal static unsafe partial class LibMpg123
{
    private const string Library = "libmpg123.so.0";

    public const int Done = -12;
    public const int NewFormat = -11;

    /// <summary>MPG123_ADD_FLAGS.</summary>
    public const int AddFlags = 2;

    /// <summary>MPG123_FORCE_FLOAT and MPG123_QUIET.</summary>
    public const int FloatAndQuiet = 0x400 | 0x20;

    public static bool IsThere => NativeLibrary.TryLoad(Library, Assembly.GetExecutingAssembly(), null, out _);

    [LibraryImport(Library)] public static partial int mpg123_init();
    [LibraryImport(Library)] public static partial nint mpg123_new(nint decoder, int* error);
    [LibraryImport(Library)] public static partial void mpg123_delete(nint handle);
    [LibraryImport(Library)] public static partial int mpg123_param(nint handle, int type, nint value, double unused);
    [LibraryImport(Library, StringMarshalling = StringMarshalling.Utf8)] public static partial int mpg123_open(nint handle, string path);
    [LibraryImport(Library)] public static partial int mpg123_getformat(nint handle, nint* rate, int* channels, int* encoding);
    [LibraryImport(Library)] public static partial int mpg123_read(nint handle, byte* into, nuint size, nuint* got);
}
