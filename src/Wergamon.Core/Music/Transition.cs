using System.Globalization;

namespace Wergamon.Core.Music;

/// <summary>What is known of a track when it is put beside others.</summary>
/// <param name="Tempo">Beats a minute.</param>
/// <param name="Energy">1 to 5.</param>
public sealed record TrackFigures(double? Tempo, MusicalKey? Key, int? Energy);

/// <summary>The step from one track of a set to the next.</summary>
/// <param name="TempoChange">In per cent; null where a tempo is not known.</param>
/// <param name="KeyChange">In words; null where a key is not known.</param>
/// <param name="EnergyChange">Steps up; null where an energy is not known.</param>
public sealed record Transition(double? TempoChange, string? KeyChange, int? EnergyChange)
{
    /// <summary>More than a player's pitch control is commonly moved. <em>Common practice, no source.</em></summary>
    public const double FarPercent = 3;

    private const int FarEnergy = 3;

    public bool IsFar { get; private init; }

    public static Transition Between(TrackFigures from, TrackFigures to)
    {
        double? tempo = from.Tempo > 0 && to.Tempo > 0 ? 100 * (to.Tempo / from.Tempo - 1) : null;
        int? energy = to.Energy - from.Energy;
        return new Transition(tempo, from.Key is { } key && to.Key is { } next ? KeyRelation.InWords(key, next) : null, energy)
        {
            IsFar = Math.Abs(tempo ?? 0) > FarPercent || Math.Abs(energy ?? 0) >= FarEnergy,
        };
    }

    /// <summary>"+1.6 %, same key"; empty where nothing is known.</summary>
    public string InWords
    {
        get
        {
            var parts = new List<string>();
            if (TempoChange is { } change)
                parts.Add(Math.Abs(change) < 0.05 ? "same tempo" : change.ToString(Math.Abs(change) < 10 ? "+0.0 '%';-0.0 '%'" : "+0 '%';-0 '%'", CultureInfo.InvariantCulture));
            if (KeyChange is not null)
                parts.Add(KeyChange);
            if (EnergyChange is { } energy && Math.Abs(energy) >= FarEnergy)
                parts.Add(string.Create(CultureInfo.InvariantCulture, $"energy {energy:+0;-0}"));
            if (IsFar)
                parts.Add("far");
            return string.Join(", ", parts);
        }
    }
}
