using System.Runtime.InteropServices;

namespace Wergamon.Testing.Outside;

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
