using Wergamon.App.Deliver;
using Wergamon.App.Deliver.Discs;
using Wergamon.Devices.Burners;

namespace Wergamon.Web.Pages.Deliver.Front;

/// <summary>A kind of thing that can be made.</summary>
/// <param name="What">What it is good for.</param>
/// <param name="State">What the device for it is ready for; empty for what needs none.</param>
public sealed record DeliveryWay(DeliveryKind Kind, string Title, string What, string State)
{
    /// <summary>Where the music for it is chosen.</summary>
    public string Address => $"/deliver/new?kind={Kind}";

    /// <param name="sticks">How many are known.</param>
    /// <param name="there">How many of them are plugged in.</param>
    public static IReadOnlyList<DeliveryWay> All(BurnerBay bay, int sticks, int there)
    {
        var ready = bay.Burners.FirstOrDefault(burner => burner.Disc is { CanBeWritten: true, Blank.TakesAudio: true }) ?? bay.Burners[0];
        var other = bay.Burners.FirstOrDefault(burner => burner != ready && burner.Disc is { CanBeWritten: true })
            ?? (ready.Disc is { CanBeWritten: true } ? ready : bay.Burners[^1]);
        return
        [
            new(DeliveryKind.Audio, "Audio disc", "For any CD player. 44.1 kHz, 16-bit, gapless or with pauses.", StateOf(ready)),
            new(DeliveryKind.Data, "Data disc", "MP3 or other files in folders, for players that read them.", StateOf(other)),
            new(
                DeliveryKind.Stick, "Stick or player", "Kept in step, in play order, for decks, car or pocket.",
                sticks == 0 ? "None known yet"
                    : there == 0 ? $"{sticks:N0} known, none plugged in" : $"{sticks:N0} known, {there:N0} plugged in"),
            new(DeliveryKind.Joined, "Joined file", "A set as one long file with cue sheet and chapters.", ""),
            new(DeliveryKind.Zip, "Download", "Files as they are, or made for a target, in one zip.", ""),
        ];
    }

    private static string StateOf(IDiscBurner burner) => burner.Traits.Name + ": " + burner.Disc switch
    {
        null => "empty",
        { Spoiled: not null } => "a spoiled disc",
        { CanBeWritten: true, WrittenKey: not null } disc => $"{disc.Label}, can be erased",
        { CanBeWritten: true } disc => $"blank, {disc.Blank.Name}",
        var disc => $"{disc.Label}, written",
    };
}
