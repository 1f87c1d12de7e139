namespace Wergamon.Bench;

/// <summary>The middle of several rounds: one that was disturbed does not count.</summary>
internal static class Medians
{
    public static double Median(this IReadOnlyCollection<double> values) => values.Order().ElementAt(values.Count / 2);
}
