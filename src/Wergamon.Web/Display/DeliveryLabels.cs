using Wergamon.App.Deliver;

namespace Wergamon.Web.Display;

/// <summary>Deliveries in words, and where their pages are.</summary>
internal static class DeliveryLabels
{
    public static string Name(DeliveryKind kind) => kind switch
    {
        DeliveryKind.Data => "Data disc",
        DeliveryKind.Joined => "Joined file",
        DeliveryKind.Zip => "Download converted",
        DeliveryKind.Stick => "Stick",
        _ => "Audio disc",
    };

    public static string Address(DeliveryKind kind, long id) => kind switch
    {
        DeliveryKind.Data => $"/deliver/data/{id}",
        DeliveryKind.Joined => $"/deliver/joined/{id}",
        DeliveryKind.Zip => $"/deliver/zip/{id}",
        DeliveryKind.Stick => $"/deliver/stick/{id}",
        _ => $"/deliver/{id}",
    };
}
