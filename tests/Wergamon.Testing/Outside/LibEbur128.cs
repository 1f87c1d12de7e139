using System.Runtime.InteropServices;
using Wergamon.Core.Audio;

namespace Wergamon.Testing.Outside;

/// <summary>libebur128 1.2.6 (package libebur128-1), for integrated loudness, loudness range and true peak.</summary>
public static unsafe partial class LibEbur128
{
    private const string Library = "libebur128.so.1";

    private const int Integrated = 1 << 2 | 1, Range = 1 << 3 | 1 << 1 | 1, TruePeak = 1 << 5 | 1 << 4 | 1;

    /// <summary>Loudness in LUFS, range in LU, true peak as a linear magnitude.</summary>
    public static (double Integrated, double Range, double TruePeak) Measure(ReadOnlySpan<float> interleaved, PcmFormat format)
    {
        void* state = ebur128_init((uint)format.Channels, (nuint)format.Rate.Hertz, Integrated | Range | TruePeak);
        var roles = format.Roles.InOrder();
        for (int channel = 0; channel < format.Channels; channel++)
            Check(ebur128_set_channel(state, (uint)channel, PlaceOf(roles[channel])));
        fixed (float* samples = interleaved)
            Check(ebur128_add_frames_float(state, samples, (nuint)(interleaved.Length / format.Channels)));
        double integrated, range, peak, highest = 0;
        Check(ebur128_loudness_global(state, &integrated));
        Check(ebur128_loudness_range(state, &range));
        for (int channel = 0; channel < format.Channels; channel++)
        {
            Check(ebur128_true_peak(state, (uint)channel, &peak));
            highest = Math.Max(highest, peak);
        }

        ebur128_destroy(&state);
        return (integrated, range, highest);
    }

    /// <summary>Its own numbers for loudspeakers, from the header.</summary>
    private static int PlaceOf(ChannelRoles role) => role switch
    {
        ChannelRoles.FrontLeft => 1,
        ChannelRoles.FrontRight => 2,
        ChannelRoles.FrontCentre => 3,
        ChannelRoles.BackLeft or ChannelRoles.SideLeft => 4,
        ChannelRoles.BackRight or ChannelRoles.SideRight => 5,
        _ => 0,
    };

    private static void Check(int code)
    {
        if (code != 0)
            throw new InvalidOperationException($"libebur128 returned {code}.");
    }

    [LibraryImport(Library)] private static partial void* ebur128_init(uint channels, nuint rate, int mode);
    [LibraryImport(Library)] private static partial void ebur128_destroy(void** state);
    [LibraryImport(Library)] private static partial int ebur128_set_channel(void* state, uint channel, int place);
    [LibraryImport(Library)] private static partial int ebur128_add_frames_float(void* state, float* samples, nuint frames);
    [LibraryImport(Library)] private static partial int ebur128_loudness_global(void* state, double* loudness);
    [LibraryImport(Library)] private static partial int ebur128_loudness_range(void* state, double* range);
    [LibraryImport(Library)] private static partial int ebur128_true_peak(void* state, uint channel, double* peak);
}
