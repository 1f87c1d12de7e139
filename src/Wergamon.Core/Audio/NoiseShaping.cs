namespace Wergamon.Core.Audio;

/// <summary>Error feedback: what rounding adds to a sample is taken from the next ones, so that its spectrum follows a filter.</summary>
public static class NoiseShaping
{
    private const int MinHertz = 40_000, MaxHearingFitted = 50_000;

    /// <summary>
    /// Weights of the errors before, the latest first. At 44.1 and 48 kHz those of Lipshitz, Vanderkooy and Wannamaker (Minimally
    /// Audible Noise Shaping, JAES 39/11, 1991; five taps, from memory), at higher rates a double zero at 0 Hz. Lower rates have no
    /// place to move noise to.
    /// </summary>
    public static IReadOnlyList<double> Weights(SampleRate rate) => rate.Hertz switch
    {
        < MinHertz => [],
        < MaxHearingFitted => [2.033, -2.165, 1.959, -1.590, 0.6149],
        _ => [2, -1],
    };
}
