using System.Runtime.InteropServices;

namespace Wergamon.Testing.Outside;

/// <summary>libcdio 2.1 (package libcdio19), opening a bin/cue image as a drive.</summary>
public sealed unsafe partial class LibCdio : IDisposable
{
    private const string Library = "libcdio.so.19";
    private const int LeadOutTrack = 0xAA;
    private const int AudioFormat = 0;
    private const int TitleField = 0, PerformerField = 1, ComposerField = 3;

    private readonly nint _disc;

    public LibCdio(string cuePath)
    {
        _disc = cdio_open_cue(cuePath);
        if (_disc == 0)
            throw new InvalidDataException("libcdio does not open " + cuePath);
    }

    public int LeadOut => cdio_get_track_lsn(_disc, LeadOutTrack);

    public string? CatalogueNumber => TakeString(cdio_get_mcn(_disc));

    public string? AlbumTitle => Text(cdio_get_cdtext(_disc), TitleField, 0);

    public IReadOnlyList<OutsideTrack> Tracks
    {
        get
        {
            nint text = cdio_get_cdtext(_disc);
            return
            [
                .. Enumerable.Range(cdio_get_first_track_num(_disc), cdio_get_num_tracks(_disc)).Select(number => new OutsideTrack(
                    number, cdio_get_track_format(_disc, (byte)number) == AudioFormat, cdio_get_track_lsn(_disc, (byte)number),
                    TakeString(cdio_get_track_isrc(_disc, (byte)number)), Text(text, TitleField, number),
                    Text(text, PerformerField, number))),
            ];
        }
    }

    /// <summary>Titles, performers and composers of the first block of disc text packs; index 0 is the disc.</summary>
    public static IReadOnlyList<(string? Title, string? Performer, string? Composer)> ReadPacks(byte[] packs, int tracks)
    {
        nint text = cdtext_init();
        fixed (byte* data = packs)
        {
            if (cdtext_data_init(text, data, (nuint)packs.Length) != 0)
                throw new InvalidDataException("libcdio does not take the packs");
        }

        var words = Enumerable.Range(0, tracks + 1)
            .Select(track => (Text(text, TitleField, track), Text(text, PerformerField, track), Text(text, ComposerField, track)))
            .ToList();
        cdtext_destroy(text);
        return words;
    }

    public byte[] ReadAudio(int sector, int count)
    {
        var bytes = new byte[count * 2352];
        fixed (byte* into = bytes)
        {
            int result = cdio_read_audio_sectors(_disc, into, sector, (uint)count);
            return result == 0 ? bytes : throw new InvalidDataException($"libcdio: reading gave {result}");
        }
    }

    public void Dispose() => cdio_destroy(_disc);

    private static string? Text(nint text, int field, int track) =>
        text == 0 ? null : Marshal.PtrToStringUTF8(cdtext_get_const(text, field, (byte)track));

    private static string? TakeString(nint owned)
    {
        var text = Marshal.PtrToStringUTF8(owned);
        cdio_free(owned);
        return text;
    }

    [LibraryImport(Library, StringMarshalling = StringMarshalling.Utf8)] private static partial nint cdio_open_cue(string path);
    [LibraryImport(Library)] private static partial void cdio_destroy(nint disc);
    [LibraryImport(Library)] private static partial void cdio_free(nint memory);
    [LibraryImport(Library)] private static partial byte cdio_get_first_track_num(nint disc);
    [LibraryImport(Library)] private static partial byte cdio_get_num_tracks(nint disc);
    [LibraryImport(Library)] private static partial int cdio_get_track_lsn(nint disc, byte track);
    [LibraryImport(Library)] private static partial int cdio_get_track_format(nint disc, byte track);
    [LibraryImport(Library)] private static partial nint cdio_get_track_isrc(nint disc, byte track);
    [LibraryImport(Library)] private static partial nint cdio_get_mcn(nint disc);
    [LibraryImport(Library)] private static partial nint cdio_get_cdtext(nint disc);
    [LibraryImport(Library)] private static partial nint cdtext_init();
    [LibraryImport(Library)] private static partial void cdtext_destroy(nint text);
    [LibraryImport(Library)] private static partial int cdtext_data_init(nint text, byte* data, nuint length);
    [LibraryImport(Library)] private static partial nint cdtext_get_const(nint text, int field, byte track);
    [LibraryImport(Library)] private static partial int cdio_read_audio_sectors(nint disc, void* into, int sector, uint count);
}
