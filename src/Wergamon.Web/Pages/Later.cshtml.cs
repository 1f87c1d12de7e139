using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Wergamon.Web.Pages;

/// <summary>Stations that are not built yet: each says what will be there and what to use until then.</summary>
public sealed class LaterModel : PageModel
{
    public string Name { get; private set; } = "";

    public string Promise { get; private set; } = "";

    public string Today { get; private set; } = "";

    public string Link { get; private set; } = "/library";

    public string LinkText { get; private set; } = "To the library";

    public void OnGet(string station)
    {
        (Name, Promise, Today) = station switch
        {
            "bench" => ("Bench", "Copies will be compared here, sample by sample and by ear.", "Today, each conversion is read back and proved, and its report says how."),
            _ => ("Deliver", "Discs will be burned and sticks filled here.", "Today, the copies of a run can be downloaded one by one or as a zip, in track order."),
        };
        (Link, LinkText) = station switch
        {
            "bench" or "deliver" => ("/convert", "To the runs"),
            _ => (Link, LinkText),
        };
    }
}
