using System.Text.Json;
using Wergamon.App.Runs;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Reading;

namespace Wergamon.App.Intake;

/// <summary>Specification of an item that reads a track.</summary>
/// <param name="Number">0 for the hidden track before track 1.</param>
/// <param name="Surround">For a title of a surround disc: what it is made of.</param>
public sealed record RipTrackSpec(int Number, int FirstSector, int EndSector, SurroundSource? Surround = null);

/// <summary>What reading a track gave.</summary>
/// <param name="Reading">Null for a title of a surround disc, whose data the drive itself checks.</param>
public sealed record RipTrackResult(TrackReading? Reading);

/// <summary>One track that a rip reads.</summary>
public sealed record RipTrackRow(RunItemRow Item)
{
    private readonly RipTrackSpec _spec = RipTrackHandler.ItemKind.SpecOf(Item);

    public int Number => _spec.Number;

    public int FirstSector => _spec.FirstSector;

    public TrackSpan Span => new(_spec.Number, _spec.FirstSector, _spec.EndSector);

    public SurroundSource? Surround => _spec.Surround;

    public bool IsRead => Item.State == ItemState.Done;

    /// <summary>Null before it is read, and for a title of a surround disc.</summary>
    public TrackReading? Reading { get; } =
        Item is { State: ItemState.Done, Result: { } result }
            ? JsonSerializer.Deserialize(result, IntakeJson.Default.RipTrackResult)?.Reading
            : null;
}
