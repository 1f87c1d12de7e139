using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Intake.Upload;
using Wergamon.App.Library.Scan;

namespace Wergamon.Web.Pages.Intake;

/// <summary>Files and folders: uploads through the browser, or music that stays in its folder.</summary>
public sealed class FilesModel(MusicFolders folders, Uploads uploads, TimeProvider time) : PageModel
{
    public IReadOnlyList<MusicFolder> Folders { get; private set; } = [];

    public IReadOnlyList<(UploadRow Upload, long Received)> Unfinished { get; private set; } = [];

    public DateTimeOffset Now => time.GetUtcNow();

    public void OnGet()
    {
        Folders = folders.List();
        Unfinished = uploads.Unfinished();
    }

    public IActionResult OnPostDrop(long[] upload)
    {
        uploads.Drop(upload);
        return RedirectToPage();
    }
}
