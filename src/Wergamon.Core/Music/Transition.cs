using System.Globalization;

namespace Wergamon.Core.Music;

/// <summary>The figures of a track by which it is compared with others.</summary>
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

    /// <summary>Within this many per cent of twice or half the tempo, every other beat coincides.</summary>
    private const double OctavePercent = 6;

    public bool IsFar { get; private init; }

    /// <summary>2 or 0.5 where <see cref="TempoChange"/> is that to twice or half the tempo; else 1.</summary>
    public double Octave { get; private init; } = 1;

    public static Transition Between(TrackFigures from, TrackFigures to)
    {
        double? ratio = from.Tempo > 0 && to.Tempo > 0 ? to.Tempo / from.Tempo : null;
        double octave = ratio is { } known
            ? new[] { 2, 0.5 }.FirstOrDefault(each => 100 * Math.Abs(known / each - 1) <= OctavePercent, 1)
            : 1;
        double? tempo = 100 * (ratio / octave - 1);
        int? energy = to.Energy - from.Energy;
        return new Transition(tempo, from.Key is { } key && to.Key is { } next ? KeyRelation.InWords(key, next) : null, energy)
        {
            Octave = octave,
            IsFar = Math.Abs(tempo ?? 0) > FarPercent || Math.Abs(energy ?? 0) >= FarEnergy,
        };
    }

    /// <summary>"+1.6 %, same key"; empty where nothing is known.</summary>
    public string InWords
    {
        get
        {
            var parts = new List<string>();
            if (Octave != 1)
                parts.Add(Octave > 1 ? "double tempo" : "half tempo");
            if (TempoChange is { } change && (Octave == 1 || Math.Abs(change) >= 0.05))
                parts.Add(
                    Math.Abs(change) < 0.05
                        ? "same tempo"
                        : change.ToString(Math.Abs(change) < 10 ? "+0.0 '%';-0.0 '%'" : "+0 '%';-0 '%'", CultureInfo.InvariantCulture));
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
