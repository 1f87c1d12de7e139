using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Files;

namespace Wergamon.Web.Pages.Folders;

/// <summary>The folders at one place of this machine, for the dialog in which one is chosen.</summary>
public sealed class BrowseModel(FolderBrowser browser) : PageModel
{
    public FolderListing Listing { get; private set; } = null!;

    public void OnGet(string? at) => Listing = browser.List(at);
}
