namespace Wergamon.Core.Formats;

/// <summary>Limits that no real file exceeds: a header beyond them is damaged.</summary>
internal static class HeaderLimits
{
    public static bool IsRate(long hertz) => hertz is >= 1_000 and <= 1_536_000;

    public static bool IsSound(int channels, long hertz) => channels is >= 1 and <= 8 && IsRate(hertz);
}
