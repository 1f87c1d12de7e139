using Wergamon.App.Deliver;
using Wergamon.App.Deliver.Discs;
using Wergamon.App.Deliver.Files;
using Wergamon.App.Tracks;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages.Deliver.Front;

/// <summary>Plans deliveries of any kind but sticks.</summary>
public sealed class NewDeliveries(
    AudioDiscs discs, DataDiscs dataDiscs, JoinedFiles joined, ZippedFiles zips, LibraryQueries library)
{
    /// <summary>Plans a delivery and gives its address; null when none of the tracks is in the library.</summary>
    /// <param name="title">Null to go by the album.</param>
    public string? Create(DeliveryKind kind, string? title, IReadOnlyList<long> tracks) => library.TracksById(tracks).Count == 0
        ? null
        : DeliveryLabels.Address(kind, kind switch
        {
            DeliveryKind.Data => dataDiscs.Create(title, tracks),
            DeliveryKind.Joined => joined.Create(title, tracks),
            DeliveryKind.Zip => zips.Create(title, tracks),
            _ => discs.Create(title, tracks),
        });
}
