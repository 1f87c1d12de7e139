using Wergamon.Devices.Decks;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>The deck that a stick can be plugged into, to try things out without one.</summary>
public sealed class DeckSlots(DeliveryStore store, StickPlaces places)
{
    /// <summary>Null while the stick is away.</summary>
    public IDeck? Open(long stickId) => store.Get(stickId) is { Kind: DeliveryKind.Stick } row && places.Find(StickSettings.Of(row)) is { } place ? new SimulatedDeck(place) : null;
}
