using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Files;
using Wergamon.App.Library.Scan;

namespace Wergamon.Web.Pages.Folders;

/// <summary>The folders at one path, and the sound files if one is to be chosen, for the dialog.</summary>
public sealed class BrowseModel(FolderBrowser browser) : PageModel
{
    public FolderListing Listing { get; private set; } = null!;

    /// <summary>Whether a file is to be chosen.</summary>
    [BindProperty(SupportsGet = true)]
    public bool Files { get; set; }

    public void OnGet(string? at) => Listing = browser.List(at, Files ? FileScanner.LooksLikeSound : null);
}
