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

    private static readonly MirrorState[] Order =
        [
            MirrorState.New, MirrorState.Lost, MirrorState.Sound, MirrorState.Tags, MirrorState.Moved, MirrorState.Gone,
            MirrorState.NotAnalysed, MirrorState.SourceMissing
        ];

    public MirrorView View { get; private set; } = null!;

    /// <summary>Which lines are shown; null for all that need an update.</summary>
    [BindProperty(SupportsGet = true)]
    public MirrorState? Show { get; set; }

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
    public IEnumerable<(MirrorState State, string Words, int Count)> Counts =>
        Order.Select(state => (state, InWords(state), View.Count(state))).Where(each => each.Item3 > 0);

    public IReadOnlyList<MirrorLine> Shown =>
        [
            .. View.Lines.Where(line => Show is { } one ? line.Step.State == one : line.Step.State != MirrorState.UpToDate)
                .OrderBy(line => Array.IndexOf(Order, line.Step.State))
        ];

    /// <summary>The file below the folder of the mirror.</summary>
    public string NameOf(MirrorEntry entry) => Path.GetRelativePath(View.Mirror.OutputFolder, entry.Path);

    public static string InWords(MirrorState state) => state switch
    {
        MirrorState.New => "New",
        MirrorState.Lost => "File not there",
        MirrorState.Sound => "Sound changed",
        MirrorState.Tags => "Tags changed",
        MirrorState.Moved => "Moved",
        MirrorState.Gone => "Gone",
        MirrorState.NotAnalysed => "Not analysed yet",
        MirrorState.SourceMissing => "Source missing",
        _ => "Up to date",
    };

    /// <summary>What an update does about it.</summary>
    public static string Effect(MirrorStep step) => step.State switch
    {
        MirrorState.New => "will be converted",
        MirrorState.Lost => "will be converted again",
        MirrorState.Sound => "will be converted again; the old file goes to the trash",
        MirrorState.Tags => step.Moves ? "tags will be written, and the file moved" : "tags will be written; the sound stays as it is",
        MirrorState.Moved => "the file will be moved",
        MirrorState.Gone => "the file will go to the trash",
        MirrorState.NotAnalysed => "the analysis will tell whether its sound has changed",
        MirrorState.SourceMissing => "the file stays",
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
