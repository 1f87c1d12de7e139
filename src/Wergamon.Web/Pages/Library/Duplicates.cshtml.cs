using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Library.Comparing;
using Wergamon.App.Library.Listening;
using Wergamon.App.Tracks;
using Wergamon.Core.Matching;
using Wergamon.Core.Naming;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages.Library;

/// <summary>Duplicates: the proposal, the choice, and what will be removed.</summary>
public sealed class DuplicatesModel(Duplicates duplicates, BackgroundAnalysis analysis) : PageModel
{
    /// <summary>Groups on one page.</summary>
    public const int PageSize = 40;

    public DuplicateKind Kind { get; private set; }

    public int Offset { get; private set; }

    public IReadOnlyList<DuplicateCount> Counts { get; private set; } = [];

    public IReadOnlyList<DuplicateGroup> Groups { get; private set; } = [];

    /// <summary>What was chosen to go; null before a choice.</summary>
    public IReadOnlyList<(CopyRow Copy, TrackRow Track)>? Chosen { get; private set; }

    public string? Refusal { get; private set; }

    /// <summary>Copies that are not analysed yet.</summary>
    public int Left { get; private set; }

    public int GroupsInAll => Counts[(int)Kind].Groups;

    public static string NameOf(DuplicateKind kind) => kind switch
    {
        DuplicateKind.SameSound => "Same sound twice",
        DuplicateKind.SeveralLossy => "Several lossy copies",
        _ => "Same name, other sound",
    };

    public static string HintOf(DuplicateKind kind) => kind switch
    {
        DuplicateKind.SameSound => "Every sample is equal, whatever the files are called.",
        DuplicateKind.SeveralLossy => "One recording, encoded more than once.",
        _ => "Artist, title and length are the same. Nothing is proposed here: listen, then decide.",
    };

    public static string AddressOf(DuplicateKind kind) => $"/library/duplicates?kind={kind.ToString().ToLowerInvariant()}";

    public void OnGet(DuplicateKind kind, int offset) => Load(kind, offset);

    public PartialViewResult OnGetCounts(DuplicateKind kind)
    {
        (Kind, Counts, Left) = (kind, duplicates.Count(), analysis.CountLeft());
        return Partial("_DuplicateKinds", this);
    }

    /// <summary>Shows what will be removed and how much space that frees, before anything is removed.</summary>
    public IActionResult OnPostReview(DuplicateKind kind, int offset, long[] copy)
    {
        Load(kind, offset);
        if (copy.Length == 0)
        {
            Refusal = "No file is ticked.";
            return Page();
        }

        Refusal = duplicates.Refusal(copy);
        if (Refusal is null)
            Chosen = duplicates.Choose(copy);
        return Page();
    }

    public IActionResult OnPostTidy(DuplicateKind kind, long[] copy)
    {
        var result = duplicates.Tidy(copy);
        if (result.Taken == 0)
        {
            Load(kind, 0);
            Refusal = Labels.Reasons(result.Refusals);
            return Page();
        }

        TempData["Message"] =
            ($"{Plural.Count(result.Taken, "file")} ({Labels.Size(result.Bytes)}) moved to the trash. "
                + Labels.Reasons(result.Refusals)).TrimEnd();
        return RedirectToPage("/Library/Trash");
    }

    private void Load(DuplicateKind kind, int offset)
    {
        Kind = Enum.IsDefined(kind) ? kind : DuplicateKind.SameSound;
        Offset = Math.Max(0, offset);
        Counts = duplicates.Count();
        Groups = duplicates.List(Kind, Offset, PageSize);
        Left = analysis.CountLeft();
    }
}
