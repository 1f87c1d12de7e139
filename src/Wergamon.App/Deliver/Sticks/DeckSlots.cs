using Wergamon.App.Files;
using Wergamon.App.Tracks;
using Wergamon.Core.Formats.Registry;
using Wergamon.Devices.Decks;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>The simulated deck that a stick can be plugged into.</summary>
public sealed class DeckSlots(DeliveryStore store, StickPlaces places, AllowedPaths allowed)
{
    /// <summary>Null while the stick is away.</summary>
    public IDeck? Open(long stickId) =>
        store.Get(stickId) is { Kind: DeliveryKind.Stick } row && places.Find(StickSettings.Of(row)) is { } place
            ? new SimulatedDeck(place)
            : null;

    /// <summary>A file of a stick as something to be played; null where there is none.</summary>
    /// <param name="path">As the deck names it.</param>
    public CopyRow? FileOf(long stickId, string path)
    {
        if (store.Get(stickId) is not { Kind: DeliveryKind.Stick } row || places.Find(StickSettings.Of(row)) is not { } place)
            return null;
        var full = Path.GetFullPath(path, place);
        if (!allowed.MayRead(full))
            return null;
        using var stream = PlainFile.OpenRead(full);
        return FileReading.Read(stream).Facts is { FileFormat: { } format } facts
            ? new CopyRow
            {
                Path = full,
                Sound = new CopySound { FileFormat = format.Key, CodecName = facts.CodecName, FrameCount = facts.FrameCount },
            }
            : null;
    }
}
