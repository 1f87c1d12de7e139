using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Convert;
using Wergamon.App.Tracks;
using Wergamon.Core.Sync;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages.Convert;

/// <summary>A part of the library beside the folder that shows it.</summary>
public sealed class MirrorModel(Mirrors mirrors, MirrorStore store, LibraryQueries library) : PageModel
{
    /// <summary>Maximum lines listed; the counts cover the rest.</summary>
    public const int MaxListed = 300;

    private static readonly SyncState[] Order =
        [
            SyncState.New, SyncState.Deleted, SyncState.Sound, SyncState.Tags, SyncState.Moved, SyncState.Gone,
            SyncState.NotAnalysed, SyncState.SourceMissing
        ];

    public MirrorView View { get; private set; } = null!;

    /// <summary>Which lines are shown; null for all that need an update.</summary>
    [BindProperty(SupportsGet = true)]
    public SyncState? Show { get; set; }

    [TempData]
    public string? StartRefusal { get; set; }

    /// <summary>"All tracks below /music, for Pocket player, MP3 256 kbit/s"</summary>
    public string Subtitle
    {
        get
        {
            var part = PartLabels.Of(View.Mirror.ReadPart(), library);
            return $"{char.ToUpperInvariant(part[0])}{part[1..]}, for {View.Target.Name}: {View.Target.Summary}";
        }
    }

    /// <summary>The states that occur, with their words.</summary>
    public IEnumerable<(SyncState State, string Words, int Count)> Counts =>
        Order.Select(state => (state, InWords(state), View.Count(state))).Where(each => each.Item3 > 0);

    public IReadOnlyList<MirrorLine> Shown =>
        [
            .. View.Lines.Where(line => Show is { } one ? line.Step.State == one : line.Step.State != SyncState.UpToDate)
                .OrderBy(line => Array.IndexOf(Order, line.Step.State))
        ];

    /// <summary>The file below the folder of the mirror.</summary>
    public string NameOf(string path) => Path.GetRelativePath(View.Mirror.OutputFolder, path);

    public static string InWords(SyncState state) => state switch
    {
        SyncState.New => "New",
        SyncState.Deleted => "File not there",
        SyncState.Sound => "Sound changed",
        SyncState.Tags => "Tags changed",
        SyncState.Moved => "Moved",
        SyncState.Gone => "Gone",
        SyncState.NotAnalysed => "Not analysed yet",
        SyncState.SourceMissing => "Source missing",
        _ => "Up to date",
    };

    /// <summary>What an update does about it.</summary>
    public static string Effect(SyncStep step) => step.State switch
    {
        SyncState.New => "will be converted",
        SyncState.Deleted => "will be converted again",
        SyncState.Sound => "will be converted again; the old file goes to the trash",
        SyncState.Tags => step.IsMoved ? "tags will be written, and the file moved" : "tags will be written; the sound stays as it is",
        SyncState.Moved => "the file will be moved",
        SyncState.Gone => "the file will go to the trash",
        SyncState.NotAnalysed => "the analysis will tell whether its sound has changed",
        SyncState.SourceMissing => "the file stays",
        _ => "",
    };

    public IActionResult OnGet(long id) => Load(id) ? Page() : NotFound();

    /// <param name="remakesAll">True to make all files again although none exists.</param>
    public IActionResult OnPostUpdate(long id, bool remakesAll)
    {
        if (mirrors.Update(id, remakesAll) is { } run)
            return Redirect($"/runs/{run}");
        StartRefusal = "There is nothing to do now.";
        return RedirectToPage(new { id });
    }

    /// <summary>Sent by the page when the comparison has found something to save; looking at the page writes nothing.</summary>
    public IActionResult OnPostReconcile(long id)
    {
        mirrors.Reconcile(id);
        return new NoContentResult();
    }

    public IActionResult OnPostChange(long id) => mirrors.Edit(id) is { } plan ? Redirect($"/convert/{plan}") : NotFound();

    public IActionResult OnPostRemove(long id)
    {
        store.Remove(id);
        return Redirect("/convert");
    }

    private bool Load(long id)
    {
        if (mirrors.View(id) is not { } view)
            return false;
        View = view;
        return true;
    }
}
