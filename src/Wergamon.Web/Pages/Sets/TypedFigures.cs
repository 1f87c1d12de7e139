using Microsoft.AspNetCore.Mvc;
using Wergamon.App.Sets;
using Wergamon.Core.Music;

namespace Wergamon.Web.Pages.Sets;

/// <summary>Tempo, key and energy of a track as a person typed them; empty ones are as measured.</summary>
public sealed record TypedFigures
{
    private const double LeastTempo = 20, MostTempo = 400;

    public static string Refused => $"Tempo must be from {LeastTempo} to {MostTempo} BPM and energy from 1 to 5; nothing was changed.";

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
        // A figure equal to the measured one is not the person's own.
        var measured = (track with { Own = new() }).Figures;
        double? tempo = Tempo is not null && !(Math.Abs(Tempo.Value - (measured.Tempo ?? 0)) < 0.005) ? Tempo : null;
        var key = MusicalKey.TryParse(Key, out var said) && said != measured.Key ? said : null;
        notes.SetFigures(track.TrackId, tempo, key, Energy != measured.Energy ? Energy : null);
        return null;
    }
}
