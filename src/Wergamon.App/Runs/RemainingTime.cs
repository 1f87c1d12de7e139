namespace Wergamon.App.Runs;

/// <summary>Estimates the remaining time of a run from its progress; no estimate before there is enough to go by.</summary>
internal static class RemainingTime
{
    /// <summary>The first seconds are spent on starting workers and spinning up discs and would give a meaningless estimate.</summary>
    private static readonly TimeSpan Settling = TimeSpan.FromSeconds(3);

    /// <summary>After this time a small share is enough: the run is simply long.</summary>
    private static readonly TimeSpan Settled = TimeSpan.FromSeconds(60);

    private const double MinShare = 0.02, MinShareOnceSettled = 0.0005;

    /// <summary>The elapsed time scaled to the rest; null before there is enough to go by.</summary>
    public static TimeSpan? Estimate(TimeSpan elapsed, double share)
    {
        if (elapsed < Settling || share < (elapsed < Settled ? MinShare : MinShareOnceSettled))
            return null;
        return elapsed * ((1 - share) / share);
    }

    /// <param name="playingTime">Milliseconds of playing time that are done.</param>
    public static double? Speed(TimeSpan elapsed, double playingTime) =>
        elapsed > Settling && playingTime > 0 ? playingTime / elapsed.TotalMilliseconds : null;
}
