using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Deliver;
using Wergamon.App.Sets;
using Wergamon.App.Tracks;
using Wergamon.Core.Sticks;

namespace Wergamon.Web.Pages.Deliver.Front;

/// <summary>The music for something that is to be made: a set or an album.</summary>
public sealed class NewModel(SetStore sets, AlbumSearch albums, KnownSticks sticks) : PageModel
{
    private const int AlbumsShown = 24;

    public DeliveryKind Kind { get; private set; }

    public IReadOnlyList<SetRow> Sets { get; private set; } = [];

    /// <summary>The latest, or those with the words.</summary>
    public IReadOnlyList<AlbumRow> Albums { get; private set; } = [];

    public string SearchWords { get; private set; } = "";

    /// <summary>For a stick: those to choose from.</summary>
    public IReadOnlyList<KnownStick> Sticks { get; private set; } = [];

    public IReadOnlyList<DeviceDescription> Devices => sticks.Devices;

    public void OnGet(DeliveryKind kind, string? words)
    {
        (Kind, SearchWords) = (kind, (words ?? "").Trim());
        Sets = sets.List();
        Albums = albums.Find(SearchWords, AlbumsShown);
        Sticks = kind == DeliveryKind.Stick ? sticks.List() : [];
    }
}
