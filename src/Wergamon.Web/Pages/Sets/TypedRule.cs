using Microsoft.AspNetCore.Mvc;
using Wergamon.App.Sets;
using Wergamon.Core.Music;

namespace Wergamon.Web.Pages.Sets;

/// <summary>The rule of a set as a person typed it.</summary>
public sealed record TypedRule
{
    public const string Refused = "Tempo must be from 20 to 400 BPM, ratings and energy from 1 to 5; nothing was changed.";

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
        : LeastTempo > MostTempo || LeastEnergy > MostEnergy ? "The lower limit is above the upper limit; nothing was changed."
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
