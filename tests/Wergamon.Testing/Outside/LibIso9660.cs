using System.Runtime.InteropServices;

namespace Wergamon.Testing.Outside;

/// <summary>libiso9660 2.1 (package libiso9660-11), reading an image by its plain or its Joliet names.</summary>
public sealed unsafe partial class LibIso9660 : IDisposable
{
    private const string Library = "libiso9660.so.11";
    private const byte AllExtensions = 0xFF, NoExtensions = 0;
    private const int SectorLength = 2048;

    /// <summary>Offsets in iso9660_stat_s of version 2.1 on x86-64, measured with offsetof.</summary>
    private const int SectorOffset = 232, SizeOffset = 236;

    private readonly nint _iso;

    public LibIso9660(string path, bool byJoliet)
    {
        _iso = iso9660_open_ext(path, byJoliet ? AllExtensions : NoExtensions);
        if (_iso == 0)
            throw new InvalidDataException("libiso9660 does not open " + path);
    }

    /// <summary>The bytes of a file; null when the library does not find the path.</summary>
    public byte[]? Read(string path)
    {
        // The library wants the version number after every name.
        nint stat = iso9660_ifs_stat_translate(_iso, path + ";1");
        if (stat == 0)
            return null;
        int sector = *(int*)(stat + SectorOffset);
        var bytes = new byte[*(uint*)(stat + SizeOffset)];
        int sectors = (bytes.Length + SectorLength - 1) / SectorLength;
        var whole = new byte[sectors * SectorLength];
        fixed (byte* into = whole)
        {
            if (sectors > 0 && iso9660_iso_seek_read(_iso, into, sector, sectors) < bytes.Length)
                throw new InvalidDataException("libiso9660 reads less than the file has");
        }

        iso9660_stat_free(stat);
        return whole[..bytes.Length];
    }

    public void Dispose() => iso9660_close(_iso);

    [LibraryImport(Library, StringMarshalling = StringMarshalling.Utf8)]
    private static partial nint iso9660_open_ext(
        string path, byte extensions);
    [LibraryImport(Library)] private static partial byte iso9660_close(nint iso);
    [LibraryImport(Library, StringMarshalling = StringMarshalling.Utf8)]
    private static partial nint iso9660_ifs_stat_translate(nint iso, string path);
    [LibraryImport(Library)] private static partial void iso9660_stat_free(nint stat);
    [LibraryImport(Library)] private static partial nint iso9660_iso_seek_read(nint iso, void* into, int sector, nint sectors);
}
