using System.Runtime.InteropServices;

namespace Wergamon.Testing.Outside;

/// <summary>libsoxr 0.1.3 (package libsoxr0) with its very high quality recipe, from 64-bit floats to 64-bit floats.</summary>
public static unsafe partial class LibSoxr
{
    private const string Library = "libsoxr.so.0";
    private const uint VeryHighQuality = 6;
    private const int Float64Interleaved = 1;

    /// <summary>Resamples one channel; the first output sample is aligned with the first input sample.</summary>
    public static double[] Resample(double[] samples, int from, int to)
    {
        var output = new double[(int)((long)samples.Length * to / from) + 16];
        var kinds = soxr_io_spec(Float64Interleaved, Float64Interleaved);
        var quality = soxr_quality_spec(VeryHighQuality, 0);
        nuint taken, made;
        fixed (double* source = samples, target = output)
        {
            nint complaint = soxr_oneshot(
                from, to, 1, source, (nuint)samples.Length, &taken, target, (nuint)output.Length, &made, &kinds, &quality, null);
            if (complaint != 0)
                throw new InvalidOperationException(Marshal.PtrToStringUTF8(complaint));
        }

        return output[..(int)made];
    }

    [LibraryImport(Library)] private static partial IoSpec soxr_io_spec(int input, int output);
    [LibraryImport(Library)] private static partial QualitySpec soxr_quality_spec(nuint recipe, nuint flags);
    [LibraryImport(Library)]
    private static partial nint soxr_oneshot(
        double from, double to, uint channels, double* input, nuint inputLength, nuint* taken, double* output, nuint outputLength,
        nuint* made,
        IoSpec* kinds, QualitySpec* quality, void* runtime);

    [StructLayout(LayoutKind.Sequential)]
    private struct IoSpec
    {
        public int Input, Output;
        public double Scale;
        public nint Reserved;
        public nuint Flags;
    }

    [StructLayout(LayoutKind.Sequential)]
    private struct QualitySpec
    {
        public double Precision, Phase, PassBandEnd, StopBandBegin;
        public nint Reserved;
        public nuint Flags;
    }
}
