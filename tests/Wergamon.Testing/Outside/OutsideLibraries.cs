using System.Runtime.InteropServices;

namespace Wergamon.Testing.Outside;

/// <summary>Reference libraries whose files have other numbers on Debian 13 than on Debian 12.</summary>
internal static class OutsideLibraries
{
    private static readonly Dictionary<string, string[]> Files = new()
    {
        ["FLAC"] = ["libFLAC.so.12", "libFLAC.so.14"],
        ["tag_c"] = ["libtag_c.so.0", "libtag_c.so.2"],
    };

    private static readonly Lock Once = new();
    private static bool _isSet;

    /// <summary>Lets these names find whichever file is there; to be called before one is used.</summary>
    public static void Prepare()
    {
        lock (Once)
        {
            if (_isSet)
                return;
            _isSet = true;
            NativeLibrary.SetDllImportResolver(typeof(OutsideLibraries).Assembly, (name, _, _) =>
            {
                foreach (var file in Files.GetValueOrDefault(name, []))
                {
                    if (NativeLibrary.TryLoad(file, out nint library))
                        return library;
                }

                return 0;
            });
        }
    }
}
