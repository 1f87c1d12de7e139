using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Files;

namespace Wergamon.Web.Pages.Folders;

/// <summary>The folders at one path, for the dialog that chooses one.</summary>
public sealed class BrowseModel(FolderBrowser browser) : PageModel
{
    public FolderListing Listing { get; private set; } = null!;

    public void OnGet(string? at) => Listing = browser.List(at);
}
