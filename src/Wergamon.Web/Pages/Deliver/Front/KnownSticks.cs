using Wergamon.App.Deliver;
using Wergamon.App.Deliver.Sticks;
using Wergamon.App.Files;
using Wergamon.Core.Sticks;

namespace Wergamon.Web.Pages.Deliver.Front;

/// <summary>A stick as it is listed.</summary>
/// <param name="Lists">Titles of what should be on it.</param>
/// <param name="Files">How many were written to it.</param>
public sealed record KnownStick(DeliveryRow Row, string Place, string Device, IReadOnlyList<string> Lists, int Files, bool IsThere)
{
    /// <summary>Null while it is away.</summary>
    public long? FreeBytes { get; init; }
}

/// <summary>The sticks that are known, with what is on them, and the devices that one can be for.</summary>
public sealed class KnownSticks(MusicSticks sticks, StickStore files, DeviceChoices devices)
{
    public IReadOnlyList<DeviceDescription> Devices => devices.All();

    public IReadOnlyList<KnownStick> List()
    {
        var counts = files.CountFiles();
        return [.. sticks.List().Select(row => Of(row, sticks.IsThere(row), counts.GetValueOrDefault(row.Id)))];
    }

    private KnownStick Of(DeliveryRow row, bool isThere, int written)
    {
        var stick = StickSettings.Of(row);
        return new KnownStick(
            row, stick.Place, devices.Get(stick.DeviceKey).Name, [.. files.Lists(row.Id).Select(list => list.Title)], written, isThere)
        {
            FreeBytes = isThere ? FreeSpace.At(stick.Place) : null,
        };
    }
}
