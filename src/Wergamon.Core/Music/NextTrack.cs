namespace Wergamon.Core.Music;

/// <summary>How well a track follows another in a set.</summary>
public static class NextTrack
{
    /// <summary>Tempos within this many per cent can be matched.</summary>
    public const double TempoRange = 6;

    /// <summary>
    /// The smaller, the better; null if the tracks do not fit: another tempo, or an unrelated key. An unknown figure of either track
    /// counts as a middling fit. <em>Common practice, no source.</em>
    /// </summary>
    public static double? Cost(TrackFigures from, TrackFigures to)
    {
        double cost = 0;
        if (from.Tempo > 0 && to.Tempo > 0)
        {
            double percent = 100 * Math.Abs(to.Tempo.Value / from.Tempo.Value - 1);
            if (percent > TempoRange)
                return null;
            cost += percent / TempoRange;
        }
        else
        {
            cost += 0.7;
        }

        if (from.Key is { } key && to.Key is { } next)
        {
            if (!KeyRelation.IsNear(key, next))
                return null;
            cost += 0.5 * KeyRelation.Distance(key, next);
        }
        else
        {
            cost += 0.7;
        }

        return cost + (to.Energy - from.Energy is { } energy ? 0.25 * Math.Abs(energy) : 0.5);
    }
}
