namespace Wergamon.App.Runs;

/// <summary>How long a run still takes, from what it has taken. Nothing is said before there is enough to go by.</summary>
internal static class RemainingTime
{
    /// <summary>The first seconds go into starting workers and spinning discs up, and would give nonsense.</summary>
    private static readonly TimeSpan Settling = TimeSpan.FromSeconds(3);

    /// <summary>After this a small share is enough: the run is simply long.</summary>
    private static readonly TimeSpan Settled = TimeSpan.FromSeconds(60);

    private const double MinShare = 0.02, MinShareOnceSettled = 0.0005;

    /// <summary>A start that cost as much as the rest of the share so far is left out of the reckoning as the run goes on.</summary>
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
