using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Intake;
using Wergamon.App.Library.Scan;
using Wergamon.Core.Naming;

namespace Wergamon.Web.Pages.Intake;

/// <summary>Where music comes in: the drives, files and folders, and what came in last.</summary>
public sealed class IndexModel(DiscViews views, DriveBay bay, MusicFolders folders, RecentAlbums recent, TimeProvider time) : PageModel
{
    private const int AlbumsShown = 6;

    public IReadOnlyList<DiscView> Drives { get; private set; } = [];

    public IReadOnlyList<MusicFolder> Folders { get; private set; } = [];

    public IReadOnlyList<RecentAlbum> Recent { get; private set; } = [];

    public DateTimeOffset Now => time.GetUtcNow();

    /// <summary>True if files can be uploaded into a folder.</summary>
    public bool IsFolderOpen => Folders.Any(folder => folder is { IsPaused: false, IsThere: true });

    /// <summary>"2 folders, 412 files, watched".</summary>
    public string FolderState
    {
        get
        {
            if (Folders.Count == 0)
                return "None yet. Their files stay where they are.";
            int away = Folders.Count(folder => !folder.IsThere), paused = Folders.Count(folder => folder.IsPaused);
            string?[] parts =
            [
                Plural.Count(Folders.Count, "folder"), Plural.Count(Folders.Sum(folder => folder.Copies), "file"),
                folders.IsScanning ? "being scanned" : "watched", away > 0 ? $"{away:N0} not connected" : null,
                paused > 0 ? $"{paused:N0} paused" : null,
            ];
            return string.Join(", ", parts.Where(part => part is not null));
        }
    }

    public void OnGet()
    {
        LoadDrives();
        Folders = folders.List();
        Recent = recent.List(AlbumsShown);
    }

    public IActionResult OnGetDrives()
    {
        LoadDrives();
        return Partial("_Drives", this);
    }

    public IActionResult OnPostEject(string? drive)
    {
        bay.Eject(drive ?? "");
        return RedirectToPage();
    }

    private void LoadDrives() => Drives = [
        .. bay.Trays.Where(tray => tray.Letter != DriveBay.ImageLetter || tray.Disc is not null)
            .Select(tray => views.Read(tray.Letter, edit: false)).OfType<DiscView>()
    ];
}
