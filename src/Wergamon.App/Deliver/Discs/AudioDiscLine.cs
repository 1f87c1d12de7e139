using Wergamon.App.Tracks;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Burning;
using Wergamon.Core.Planning;

namespace Wergamon.App.Deliver.Discs;

/// <summary>A track in its place on a disc that is planned.</summary>
/// <param name="Track">Null when it has left the library.</param>
/// <param name="Burn">As it will be written; null if there is no file.</param>
/// <param name="Route">What happens to its sound; null if there is no file.</param>
/// <param name="Place">Null where there is no file.</param>
public sealed record AudioDiscLine(
    DeliveryItemRow Item, AudioTrackSettings Settings, TrackRow? Track, BurnTrack? Burn, Route? Route, LaidTrack? Place)
{
    public string Title => Settings.Title ?? Track?.Title ?? Item.Title;

    public string Artist => Settings.Artist ?? Track?.Artist ?? Item.Artist;

    /// <summary>Disc text as players will read it; null for none.</summary>
    public DiscTextEntry? Text { get; init; }

    /// <summary>True for a file that is not there.</summary>
    public bool IsMissing => Burn is null;

    /// <summary>
    /// What happens to the sound before it is written, without the file that only carries it: "48 to 44.1 kHz, 16-bit"; empty where it is
    /// written as it is.
    /// </summary>
    public string Steps =>
        Route is null ? "" : string.Join(", ", Route.Steps.Where(step => step.Kind != StepKind.Encode).Select(step => step.Label));
}
