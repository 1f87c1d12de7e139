using Microsoft.AspNetCore.Mvc;
using Wergamon.App.Sets;
using Wergamon.Core.Music;

namespace Wergamon.Web.Pages.Sets;

/// <summary>Tempo, key and energy of a track as a person typed them; what is left empty is as measured.</summary>
public sealed record TypedFigures
{
    private const double LeastTempo = 20, MostTempo = 400;

    public static string Refused => $"Tempos go from {LeastTempo} to {MostTempo} beats a minute, energy from 1 to 5; nothing was changed.";

    [FromForm(Name = "tempo")]
    public double? Tempo { get; init; }

    [FromForm(Name = "key")]
    public string? Key { get; init; }

    [FromForm(Name = "energy")]
    public int? Energy { get; init; }

    /// <returns>Why nothing was saved; null when all was.</returns>
    public string? Save(TrackNotes notes, SetTrack track)
    {
        if (Tempo is not (null or (>= LeastTempo and <= MostTempo)) || Energy is not (null or (>= 1 and <= 5)))
            return Refused;
        // A figure that says what was measured is none of one's own.
        var measured = track.Measured;
        double? tempo = Tempo is not null && !(Math.Abs(Tempo.Value - (measured.Tempo ?? 0)) < 0.005) ? Tempo : null;
        var key = MusicalKey.TryParse(Key, out var said) && said != measured.Key ? said : null;
        notes.SetFigures(track.TrackId, tempo, key, Energy != measured.Energy ? Energy : null);
        return null;
    }
}

/// <summary>What a person says while listening; parts that are not there stay as they are.</summary>
public sealed record TypedNote
{
    /// <summary>0 to 5.</summary>
    [FromForm(Name = "rating")]
    public int? Rating { get; init; }

    /// <summary>1 to 5.</summary>
    [FromForm(Name = "energy")]
    public int? Energy { get; init; }

    /// <summary>True where the comment was typed, even if it is empty now.</summary>
    [FromForm(Name = "hasComment")]
    public bool HasComment { get; init; }

    [FromForm(Name = "comment")]
    public string? Comment { get; init; }

    public void Save(TrackNotes notes, long trackId)
    {
        if (Rating is >= 0 and <= TrackNotes.MaxRating)
            notes.SetRating(trackId, Rating);
        if (Energy is >= 1 and <= 5)
            notes.SetEnergy(trackId, Energy);
        if (HasComment)
            notes.SetComment(trackId, Comment ?? "");
    }
}

/// <summary>What a standing set asks for, as a person typed it.</summary>
public sealed record TypedRule
{
    public const string Refused = "Tempos go from 20 to 400 beats a minute, ratings and energies from 1 to 5; nothing was changed.";

    [FromForm(Name = "words")]
    public string? Words { get; init; }

    [FromForm(Name = "leastRating")]
    public int? LeastRating { get; init; }

    [FromForm(Name = "leastTempo")]
    public double? LeastTempo { get; init; }

    [FromForm(Name = "mostTempo")]
    public double? MostTempo { get; init; }

    [FromForm(Name = "leastEnergy")]
    public int? LeastEnergy { get; init; }

    [FromForm(Name = "mostEnergy")]
    public int? MostEnergy { get; init; }

    [FromForm(Name = "nearKey")]
    public string? NearKey { get; init; }

    [FromForm(Name = "added")]
    public AddedWhen Added { get; init; }

    [FromForm(Name = "sort")]
    public SetSort Sort { get; init; }

    [FromForm(Name = "descending")]
    public bool IsDescending { get; init; }

    /// <summary>Why it is no rule; null when it is one.</summary>
    public string? Problem => new[] { LeastTempo, MostTempo }.Any(tempo => tempo is not (null or (>= 20 and <= 400)))
        || new[] { LeastRating, LeastEnergy, MostEnergy }.Any(figure => figure is not (null or (>= 1 and <= 5))) ? Refused
        : LeastTempo > MostTempo || LeastEnergy > MostEnergy ? "The lower limit is above the upper one; nothing was changed."
        : null;

    public SetRule ToRule() => new()
    {
        Words = (Words ?? "").Trim(),
        LeastRating = LeastRating,
        LeastTempo = LeastTempo,
        MostTempo = MostTempo,
        LeastEnergy = LeastEnergy,
        MostEnergy = MostEnergy,
        NearKey = MusicalKey.TryParse(NearKey, out var key) ? key.ToString() : null,
        Added = Added,
        Sort = Sort,
        IsDescending = IsDescending,
    };
}
