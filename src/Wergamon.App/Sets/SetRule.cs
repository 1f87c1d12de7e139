using System.Globalization;
using Wergamon.Core.Music;

namespace Wergamon.App.Sets;

/// <summary>How long ago a track was added to the library.</summary>
public enum AddedWhen
{
    Anytime,
    LastWeek,
    ThisMonth,
    LastMonth,
    LastYear,
}

/// <summary>Which tracks belong to a set by rule, and in which order. Null and empty parts are no condition.</summary>
public sealed record SetRule
{
    /// <summary>As in the search of the library.</summary>
    public string Words { get; init; } = "";

    /// <summary>1 to 5.</summary>
    public int? LeastRating { get; init; }

    /// <summary>Beats a minute.</summary>
    public double? LeastTempo { get; init; }

    public double? MostTempo { get; init; }

    /// <summary>1 to 5.</summary>
    public int? LeastEnergy { get; init; }

    public int? MostEnergy { get; init; }

    /// <summary>The name of a key; tracks in it and in the keys near it.</summary>
    public string? NearKey { get; init; }

    public AddedWhen Added { get; init; }

    public SetSort Sort { get; init; } = SetSort.Tempo;

    public bool IsDescending { get; init; }

    /// <summary>"rating at least 4, 120 to 128 BPM, added this month"; for a rule without conditions "all tracks".</summary>
    public string InWords
    {
        get
        {
            var parts = new List<string>();
            if (Words.Length > 0)
                parts.Add($"“{Words}”");
            if (LeastRating is { } rating)
                parts.Add($"rating at least {rating}");
            if (Range(LeastTempo, MostTempo) is { } tempo)
                parts.Add(tempo + " BPM");
            if (Range(LeastEnergy, MostEnergy) is { } energy)
                parts.Add("energy " + energy);
            if (NearKey is not null)
                parts.Add("near " + NearKey);
            if (Added != AddedWhen.Anytime)
                parts.Add("added " + Name(Added));
            return parts.Count == 0 ? "all tracks" : string.Join(", ", parts);
        }
    }

    public static string Name(AddedWhen added) => added switch
    {
        AddedWhen.LastWeek => "in the last 7 days",
        AddedWhen.ThisMonth => "this month",
        AddedWhen.LastMonth => "in the last 30 days",
        AddedWhen.LastYear => "in the last 12 months",
        _ => "anytime",
    };

    /// <summary>The earliest time at which a track of the rule was added, in the time zone of the machine.</summary>
    internal DateTimeOffset? AddedSince(DateTimeOffset now) => Added switch
    {
        AddedWhen.LastWeek => now.AddDays(-7),
        AddedWhen.ThisMonth => new DateTimeOffset(now.Year, now.Month, 1, 0, 0, 0, now.Offset),
        AddedWhen.LastMonth => now.AddDays(-30),
        AddedWhen.LastYear => now.AddYears(-1),
        _ => null,
    };

    /// <summary>The conditions that the database cannot check: energy and keys.</summary>
    internal bool Fits(TrackFigures figures) =>
        (LeastEnergy is null && MostEnergy is null
                || figures.Energy is { } energy && energy >= (LeastEnergy ?? 1) && energy <= (MostEnergy ?? 5))
        && (!MusicalKey.TryParse(NearKey, out var near) || figures.Key is { } key && near is { } wanted && KeyRelation.IsNear(wanted, key));

    private static string? Range(double? least, double? most) => (least, most) switch
    {
        (null, null) => null,
        ({ } low, null) => string.Create(CultureInfo.InvariantCulture, $"at least {low:0.##}"),
        (null, { } high) => string.Create(CultureInfo.InvariantCulture, $"at most {high:0.##}"),
        ({ } low, { } high) when low == high => low.ToString("0.##", CultureInfo.InvariantCulture),
        ({ } low, { } high) => string.Create(CultureInfo.InvariantCulture, $"{low:0.##} to {high:0.##}"),
    };
}
