using System.Runtime.InteropServices;

namespace Wergamon.Testing.Outside;

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
