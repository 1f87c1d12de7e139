using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.Data.Sqlite;
using Wergamon.App.Storage;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages;

/// <summary>The parts of the page frame that update themselves.</summary>
public sealed class ShellModel(DatabaseBackups backups) : PageModel
{
    public IActionResult OnGet() => NotFound();

    public PartialViewResult OnGetStations(string? station) => Partial("_Stations", station);

    public PartialViewResult OnGetPill() => Partial("_Pill");

    public PartialViewResult OnGetStorage() => Partial("_StorageNotice");

    public IActionResult OnPostTheme(string? theme, string? back)
    {
        Theme.Choose(HttpContext, theme);
        return Url.IsLocalUrl(back) ? LocalRedirect(back) : Redirect("/");
    }

    public PartialViewResult OnGetDrawer() => Partial("_Drawer");

    public PartialViewResult OnPostBackup()
    {
        try
        {
            var made = backups.Make(DatabaseBackups.ByHand);
            return Partial("_Backup", $"Backed up, {Labels.Size(made.Bytes)}: {made.Path}");
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException or SqliteException)
        {
            return Partial("_Backup", $"The backup could not be made: {failure.Message}");
        }
    }
}
