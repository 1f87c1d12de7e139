using System.Runtime.InteropServices;

namespace Wergamon.Testing.Outside;

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
