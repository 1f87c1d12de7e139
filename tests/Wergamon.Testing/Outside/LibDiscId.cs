using System.Runtime.InteropServices;

namespace Wergamon.Testing.Outside;

/// <summary>libdiscid 0.6 (package libdiscid0).</summary>
public static unsafe partial class LibDiscId
{
    private const string Library = "libdiscid.so.0";
    private const int Entries = 100;

    /// <summary>Both published IDs of a table of contents.</summary>
    /// <param name="starts">Start of each track from track 1, including the lead-in pause of 150 sectors.</param>
    public static (string Sha1, string Checksum) Of(IReadOnlyList<int> starts, int leadOut)
    {
        nint disc = discid_new();
        var offsets = stackalloc int[Entries];
        offsets[0] = leadOut;
        for (int i = 0; i < starts.Count; i++)
            offsets[i + 1] = starts[i];
        if (discid_put(disc, 1, starts.Count, offsets) == 0)
            throw new InvalidDataException("libdiscid: " + Marshal.PtrToStringUTF8(discid_get_error_msg(disc)));
        var ids = (Marshal.PtrToStringUTF8(discid_get_id(disc))!, Marshal.PtrToStringUTF8(discid_get_freedb_id(disc))!);
        discid_free(disc);
        return ids;
    }

    [LibraryImport(Library)] private static partial nint discid_new();
    [LibraryImport(Library)] private static partial void discid_free(nint disc);
    [LibraryImport(Library)] private static partial int discid_put(nint disc, int first, int last, int* offsets);
    [LibraryImport(Library)] private static partial nint discid_get_id(nint disc);
    [LibraryImport(Library)] private static partial nint discid_get_freedb_id(nint disc);
    [LibraryImport(Library)] private static partial nint discid_get_error_msg(nint disc);
}
