using System.Runtime.InteropServices;

namespace Wergamon.Testing.Outside;

/// <summary>libsndfile 1.2 (package libsndfile1).</summary>
public static unsafe partial class LibSndFile
{
    private const string Library = "libsndfile.so.1";
    private const int Read = 0x10;
    private const int SubtypeMask = 0xFFFF;

    /// <summary>Decodes the ALAC of an M4A file. The library knows it in CAF only, so the packets go into such a file first.</summary>
    public static OutsideSound DecodeAlac(string path, long frames)
    {
        var caf = Path.ChangeExtension(path, ".caf");
        File.WriteAllBytes(caf, OutsideCaf.OfAlac(new OutsideMp4(path), frames));
        return Decode(caf);
    }

    /// <summary>Reads PCM; the library gives samples left-justified in 32 bits.</summary>
    public static OutsideSound Decode(string path)
    {
        var info = default(Info);
        nint file = sf_open(path, Read, &info);
        if (file == 0)
            throw new InvalidDataException("libsndfile: " + Marshal.PtrToStringUTF8(sf_strerror(0)));
        int bits = (info.Format & SubtypeMask) switch
        {
            1 or 5 => 8,
            2 or 0x70 => 16,
            3 or 0x72 => 24,
            4 or 6 or 0x73 => 32,
            var other => throw new InvalidDataException($"libsndfile: subtype {other}")
        };
        var samples = new int[info.Frames * info.Channels];
        fixed (int* into = samples)
        {
            if (sf_readf_int(file, into, info.Frames) != info.Frames)
                throw new InvalidDataException("libsndfile: fewer frames than the header says");
        }

        sf_close(file);
        for (int i = 0; i < samples.Length; i++)
            samples[i] >>= 32 - bits;
        return new OutsideSound(info.Rate, info.Channels, bits, samples);
    }

    /// <summary>Writes a second of silence, WAV or AIFF by the end of the name, with title and artist in the texts of the format.</summary>
    public static string Write(string path, string title, string artist)
    {
        const int Rate = 44_100, Wav = 0x01_0000, Aiff = 0x02_0000, Pcm16 = 2, WriteMode = 0x20;
        var info = new Info { Rate = Rate, Channels = 1, Format = Pcm16 | (path.EndsWith(".wav", StringComparison.Ordinal) ? Wav : Aiff) };
        nint file = sf_open(path, WriteMode, &info);
        if (file == 0 || sf_set_string(file, TitleText, title) != 0 || sf_set_string(file, ArtistText, artist) != 0)
            throw new InvalidDataException("libsndfile: " + Marshal.PtrToStringUTF8(sf_strerror(file)));
        fixed (short* silence = new short[Rate])
            sf_writef_short(file, silence, Rate);
        sf_close(file);
        return path;
    }

    /// <summary>Title and artist in the texts of the format.</summary>
    public static (string? Title, string? Artist) ReadTexts(string path)
    {
        var info = default(Info);
        nint file = sf_open(path, Read, &info);
        if (file == 0)
            throw new InvalidDataException("libsndfile: " + Marshal.PtrToStringUTF8(sf_strerror(0)));
        var texts = (Marshal.PtrToStringUTF8(sf_get_string(file, TitleText)), Marshal.PtrToStringUTF8(sf_get_string(file, ArtistText)));
        sf_close(file);
        return texts;
    }

    private const int TitleText = 1, ArtistText = 4;

    [LibraryImport(Library, StringMarshalling = StringMarshalling.Utf8)]
    private static partial int sf_set_string(
        nint file, int kind, string text);
    [LibraryImport(Library)] private static partial nint sf_get_string(nint file, int kind);
    [LibraryImport(Library)] private static partial long sf_writef_short(nint file, short* frames, long count);
    [LibraryImport(Library, StringMarshalling = StringMarshalling.Utf8)]
    private static partial nint sf_open(
        string path, int mode, Info* info);
    [LibraryImport(Library)] private static partial nint sf_strerror(nint file);
    [LibraryImport(Library)] private static partial long sf_readf_int(nint file, int* into, long frames);
    [LibraryImport(Library)] private static partial int sf_close(nint file);

    [StructLayout(LayoutKind.Sequential)]
    private struct Info
    {
        public long Frames;
        public int Rate;
        public int Channels;
        public int Format;
        public int Sections;
        public int Seekable;
    }
}
