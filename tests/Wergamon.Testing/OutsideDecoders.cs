using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;

namespace Wergamon.Testing;

/// <summary>What an outside library decoded: interleaved samples, right-justified.</summary>
public sealed record OutsideSound(int Rate, int Channels, int Bits, int[] Samples);

/// <summary>libFLAC 1.4 (package libflac12), by its stream decoder interface.</summary>
public static unsafe partial class LibFlac
{
    private const string Library = "FLAC";

    static LibFlac() => OutsideLibraries.Prepare();

    public static OutsideSound Decode(string path)
    {
        nint decoder = FLAC__stream_decoder_new();
        var collected = new Collected();
        var handle = GCHandle.Alloc(collected);
        try
        {
            FLAC__stream_decoder_set_md5_checking(decoder, 1);
            int opened = FLAC__stream_decoder_init_file(decoder, path, &OnFrame, 0, &OnError, GCHandle.ToIntPtr(handle));
            bool whole = opened == 0 && FLAC__stream_decoder_process_until_end_of_stream(decoder) != 0;
            bool md5Right = FLAC__stream_decoder_finish(decoder) != 0;
            if (!whole || !md5Right || collected.Errors > 0)
                throw new InvalidDataException($"libFLAC: opened {opened}, whole {whole}, MD5 right {md5Right}, errors {collected.Errors}");
            return new OutsideSound(collected.Rate, collected.Channels, collected.Bits, [.. collected.Samples]);
        }
        finally
        {
            handle.Free();
            FLAC__stream_decoder_delete(decoder);
        }
    }

    [UnmanagedCallersOnly(CallConvs = [typeof(CallConvCdecl)])]
    private static int OnFrame(nint decoder, uint* header, int** channels, nint client)
    {
        // A frame starts with its header: block size, sample rate, channels, channel assignment, bits.
        var collected = (Collected)GCHandle.FromIntPtr(client).Target!;
        (collected.Rate, collected.Channels, collected.Bits) = ((int)header[1], (int)header[2], (int)header[4]);
        for (uint i = 0; i < header[0]; i++)
        {
            for (int c = 0; c < collected.Channels; c++)
                collected.Samples.Add(channels[c][i]);
        }

        return 0;
    }

    [UnmanagedCallersOnly(CallConvs = [typeof(CallConvCdecl)])]
    private static void OnError(nint decoder, int status, nint client) => ((Collected)GCHandle.FromIntPtr(client).Target!).Errors++;

    [LibraryImport(Library)] private static partial nint FLAC__stream_decoder_new();
    [LibraryImport(Library)] private static partial void FLAC__stream_decoder_delete(nint decoder);
    [LibraryImport(Library)] private static partial int FLAC__stream_decoder_set_md5_checking(nint decoder, int on);
    [LibraryImport(Library)] private static partial int FLAC__stream_decoder_process_until_end_of_stream(nint decoder);
    [LibraryImport(Library)] private static partial int FLAC__stream_decoder_finish(nint decoder);

    [LibraryImport(Library, StringMarshalling = StringMarshalling.Utf8)]
    private static partial int FLAC__stream_decoder_init_file(
        nint decoder, string path, delegate* unmanaged[Cdecl]<nint, uint*, int**, nint, int> onFrame, nint onMetadata,
        delegate* unmanaged[Cdecl]<nint, int, nint, void> onError, nint client);

    private sealed class Collected
    {
        public int Rate { get; set; }

        public int Channels { get; set; }

        public int Bits { get; set; }

        public int Errors { get; set; }

        public List<int> Samples { get; } = [];
    }
}

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

/// <summary>libmpg123 1.31 (package libmpg123-0), gapless as it is by default.</summary>
public static unsafe partial class LibMpg123
{
    private const string Library = "libmpg123.so.0";
    private const int Done = -12;
    private const int NewFormat = -11;

    /// <summary>Decodes to the end and counts the samples of one channel.</summary>
    public static long CountFrames(string path) => Decode(path) is { } sound ? sound.Samples.Length / sound.Channels : 0;

    /// <summary>Decodes to 16 bits, as the library does by default.</summary>
    public static OutsideSound Decode(string path)
    {
        int error = mpg123_init();
        nint handle = mpg123_new(0, &error);
        try
        {
            if (mpg123_open(handle, path) != 0)
                throw new InvalidDataException("libmpg123 cannot open the file");
            var samples = new List<int>();
            long rate = 0;
            int channels = 0, encoding = 0;
            var buffer = stackalloc byte[16384];
            while (true)
            {
                nuint got = 0;
                int result = mpg123_read(handle, buffer, 16384, &got);
                foreach (short sample in new ReadOnlySpan<short>(buffer, (int)got / sizeof(short)))
                    samples.Add(sample);
                if (result == NewFormat)
                    mpg123_getformat(handle, &rate, &channels, &encoding);
                else if (result == Done)
                    break;
                else if (result != 0)
                    throw new InvalidDataException($"libmpg123 stopped with {result}");
            }

            mpg123_getformat(handle, &rate, &channels, &encoding);
            return new OutsideSound((int)rate, channels, 16, [.. samples]);
        }
        finally
        {
            mpg123_delete(handle);
        }
    }

    [LibraryImport(Library)] private static partial int mpg123_init();
    [LibraryImport(Library)] private static partial nint mpg123_new(nint decoder, int* error);
    [LibraryImport(Library)] private static partial void mpg123_delete(nint handle);
    [LibraryImport(Library, StringMarshalling = StringMarshalling.Utf8)] private static partial int mpg123_open(nint handle, string path);
    [LibraryImport(Library)] private static partial int mpg123_read(nint handle, byte* into, nuint size, nuint* got);
    [LibraryImport(Library)] private static partial int mpg123_getformat(nint handle, long* rate, int* channels, int* encoding);
}

/// <summary>libvorbisfile 1.3 (package libvorbisfile3).</summary>
public static unsafe partial class LibVorbisFile
{
    private const string Library = "libvorbisfile.so.3";

    /// <summary>More than the library's own structure takes.</summary>
    private const int StateLength = 4096;

    /// <summary>Decodes to the end and counts the samples of one channel.</summary>
    public static long CountFrames(string path) => Decode(path)[0].Count;

    /// <summary>The samples of each channel, in the order of Vorbis.</summary>
    public static IReadOnlyList<List<float>> Decode(string path)
    {
        var state = stackalloc byte[StateLength];
        if (ov_fopen(path, state) != 0)
            throw new InvalidDataException("libvorbisfile cannot open the file");
        try
        {
            // vorbis_info begins with the version and the number of channels.
            var channels = Enumerable.Range(0, ov_info(state, -1)[1]).Select(_ => new List<float>()).ToList();
            while (true)
            {
                float** pcm;
                int stream;
                long got = ov_read_float(state, &pcm, 4096, &stream);
                if (got < 0)
                    throw new InvalidDataException($"libvorbisfile stopped with {got}");
                if (got == 0)
                    return channels;
                for (int c = 0; c < channels.Count; c++)
                    channels[c].AddRange(new ReadOnlySpan<float>(pcm[c], (int)got));
            }
        }
        finally
        {
            _ = ov_clear(state);
        }
    }

    [LibraryImport(Library)] private static partial int* ov_info(byte* state, int link);
    [LibraryImport(Library, StringMarshalling = StringMarshalling.Utf8)] private static partial int ov_fopen(string path, byte* state);
    [LibraryImport(Library)] private static partial long ov_read_float(byte* state, float*** pcm, int samples, int* stream);
    [LibraryImport(Library)] private static partial int ov_clear(byte* state);
}

/// <summary>libopusfile 0.12 (package libopusfile0).</summary>
public static unsafe partial class LibOpusFile
{
    private const string Library = "libopusfile.so.0";

    /// <summary>Decodes to the end and counts the samples of one channel.</summary>
    public static long CountFrames(string path) => Decode(path)[0].Count;

    /// <summary>The samples of each channel at 48 kHz, in the order of Vorbis.</summary>
    public static IReadOnlyList<List<float>> Decode(string path)
    {
        int error = 0;
        nint file = op_open_file(path, &error);
        if (file == 0)
            throw new InvalidDataException($"libopusfile cannot open the file: {error}");
        try
        {
            const int Room = 8 * 5760;
            var pcm = new float[Room];
            var channels = Enumerable.Range(0, op_channel_count(file, -1)).Select(_ => new List<float>()).ToList();
            while (true)
            {
                int got;
                fixed (float* into = pcm)
                    got = op_read_float(file, into, Room, null);
                if (got < 0)
                    throw new InvalidDataException($"libopusfile stopped with {got}");
                if (got == 0)
                    return channels;
                for (int i = 0; i < got * channels.Count; i++)
                    channels[i % channels.Count].Add(pcm[i]);
            }
        }
        finally
        {
            op_free(file);
        }
    }

    [LibraryImport(Library)] private static partial int op_channel_count(nint file, int link);
    [LibraryImport(Library, StringMarshalling = StringMarshalling.Utf8)] private static partial nint op_open_file(string path, int* error);
    [LibraryImport(Library)] private static partial int op_read_float(nint file, float* pcm, int length, int* link);
    [LibraryImport(Library)] private static partial void op_free(nint file);
}
