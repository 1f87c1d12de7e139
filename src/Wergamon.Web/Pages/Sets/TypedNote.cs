using Microsoft.AspNetCore.Mvc;
using Wergamon.App.Sets;

namespace Wergamon.Web.Pages.Sets;

/// <summary>Figures that a person sets while listening; missing ones are not changed.</summary>
public sealed record TypedNote
{
    /// <summary>0 to 5.</summary>
    [FromForm(Name = "rating")]
    public int? Rating { get; init; }

    /// <summary>1 to 5.</summary>
    [FromForm(Name = "energy")]
    public int? Energy { get; init; }

    /// <summary>True if the comment was typed, even if it is empty now.</summary>
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
