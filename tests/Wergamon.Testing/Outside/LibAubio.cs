using System.Runtime.InteropServices;

namespace Wergamon.Testing.Outside;

/// <summary>libaubio 0.4.9 (package libaubio5): a second opinion on tempo.</summary>
public static unsafe partial class LibAubio
{
    private const string Library = "libaubio.so.5";
    private const int Window = 1024, Hop = 512;

    /// <summary>Beats a minute, as its default method hears them at the end of the sound; 0 for none.</summary>
    public static double Tempo(float[] mono, int rate)
    {
        nint tempo = new_aubio_tempo("default", Window, Hop, (uint)rate);
        nint output = new_fvec(1);
        try
        {
            fixed (float* samples = mono)
            {
                for (int at = 0; at + Hop <= mono.Length; at += Hop)
                {
                    var input = new Vector { Length = Hop, Data = samples + at };
                    aubio_tempo_do(tempo, &input, output);
                }
            }

            return aubio_tempo_get_bpm(tempo);
        }
        finally
        {
            del_fvec(output);
            del_aubio_tempo(tempo);
        }
    }

    [LibraryImport(Library, StringMarshalling = StringMarshalling.Utf8)]
    private static partial nint new_aubio_tempo(
        string method, uint window, uint hop, uint rate);
    [LibraryImport(Library)] private static partial void del_aubio_tempo(nint tempo);
    [LibraryImport(Library)] private static partial void aubio_tempo_do(nint tempo, Vector* input, nint output);
    [LibraryImport(Library)] private static partial float aubio_tempo_get_bpm(nint tempo);
    [LibraryImport(Library)] private static partial nint new_fvec(uint length);
    [LibraryImport(Library)] private static partial void del_fvec(nint vector);

    [StructLayout(LayoutKind.Sequential)]
    private struct Vector
    {
        public uint Length;
        public float* Data;
    }
}
