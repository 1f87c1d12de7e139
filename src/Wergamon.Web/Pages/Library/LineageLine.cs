using Wergamon.App.Intake;
using Wergamon.App.Tracks;
using Wergamon.Core.Discs.Reading;
using Wergamon.Core.Planning;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages.Library;

/// <summary>One copy in the lineage tree.</summary>
/// <param name="Made">The step that made it; null for a file that imported unchanged.</param>
/// <param name="From">The copy it was made from, if still known.</param>
/// <param name="Follows">True when that copy is in the line before.</param>
public sealed record LineageLine(CopyRow Copy, LineageRow? Made, CopyRow? From, bool Follows)
{
    /// <summary>The disc that this copy was read from: "Lamp Room, track 3"; null for other copies.</summary>
    public string? FromDisc => Made is { DiscId: not null } made
        ? $"Disc {(string.IsNullOrEmpty(made.DiscTitle) ? "without a name" : made.DiscTitle)}{TrackOnDisc(made.DiscTrack)}"
        : null;

    private static string TrackOnDisc(int? track) => track switch
    {
        null or RipStore.WholeDisc => "",
        0 => ", before track 1",
        _ => $", track {track}",
    };

    /// <summary>When it was read, and the verdict.</summary>
    public string ReadInWords(DateTimeOffset now) =>
        $"read {Labels.Day(Made!.MadeAt, now)}" + (Made.ReadReading() is { } reading
            ? $", {ReadingReport.Word(reading).ToLowerInvariant()}: {ReadingReport.Why(reading)}"
            : "");

    public string InWords(DateTimeOffset now) => Made is null
        ? $"imported unchanged, {Labels.Day(Copy.AddedAt, now)}"
        : $"{Copy.Fidelity.InWords()}{(FromDisc is not null ? " from the disc" : From is null ? "" : " from " + From.Facts.ShortLabel)}, "
            + $"for {Made.TargetName}, {Labels.Day(Made.MadeAt, now)}";
}
