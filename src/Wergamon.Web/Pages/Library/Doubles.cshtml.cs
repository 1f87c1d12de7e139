using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Library;
using Wergamon.Core.Copies;

namespace Wergamon.Web.Pages.Library;

/// <summary>The same music lying there more than once: what is proposed, what was chosen, and what will go.</summary>
public sealed class DoublesModel(Doubles doubles, Surveys surveys) : PageModel
{
    /// <summary>Groups on one page.</summary>
    public const int PageSize = 40;

    public DoubleKind Kind { get; private set; }

    public int Offset { get; private set; }

    public IReadOnlyList<DoubleCount> Counts { get; private set; } = [];

    public IReadOnlyList<DoubleGroup> Groups { get; private set; } = [];

    /// <summary>What was chosen to go; null before that.</summary>
    public IReadOnlyList<(CopyRow Copy, TrackRow Track)>? Chosen { get; private set; }

    public string? Refusal { get; private set; }

    /// <summary>Copies whose sound nobody has gone through yet.</summary>
    public int Left { get; private set; }

    public int GroupsInAll => Counts[(int)Kind].Groups;

    public static string NameOf(DoubleKind kind) => kind switch
    {
        DoubleKind.SameSound => "Same sound twice",
        DoubleKind.SeveralLossy => "Several lossy copies",
        _ => "Same name, other sound",
    };

    public static string HintOf(DoubleKind kind) => kind switch
    {
        DoubleKind.SameSound => "Every sample is equal, whatever the files are called.",
        DoubleKind.SeveralLossy => "One recording, encoded more than once.",
        _ => "Artist, title and length are the same. Nothing is proposed here: listen, then decide.",
    };

    public static string AddressOf(DoubleKind kind) => $"/library/doubles?kind={kind.ToString().ToLowerInvariant()}";

    public void OnGet(DoubleKind kind, int offset) => Load(kind, offset);

    public PartialViewResult OnGetCounts(DoubleKind kind)
    {
        (Kind, Counts, Left) = (kind, doubles.Count(), surveys.CountLeft());
        return Partial("Library/_DoubleKinds", this);
    }

    /// <summary>Shows what will go and how much space that gives, before anything goes.</summary>
    public IActionResult OnPostReview(DoubleKind kind, int offset, long[] copy)
    {
        Load(kind, offset);
        if (copy.Length == 0)
        {
            Refusal = "No file is ticked.";
            return Page();
        }

        Refusal = doubles.Refusal(copy);
        if (Refusal is null)
            Chosen = doubles.Choose(copy);
        return Page();
    }

    public IActionResult OnPostTidy(DoubleKind kind, long[] copy)
    {
        var result = doubles.Tidy(copy);
        if (result.Taken == 0)
        {
            Load(kind, 0);
            Refusal = string.Join(' ', result.Refusals);
            return Page();
        }

        TempData["Said"] = $"{Words.Count(result.Taken, "file")}, {Words.Size(result.Bytes)}, {(result.Taken == 1 ? "lies" : "lie")} in the trash now. {string.Join(' ', result.Refusals)}".TrimEnd();
        return RedirectToPage("/Library/Trash");
    }

    private void Load(DoubleKind kind, int offset)
    {
        Kind = Enum.IsDefined(kind) ? kind : DoubleKind.SameSound;
        Offset = Math.Max(0, offset);
        Counts = doubles.Count();
        Groups = doubles.List(Kind, Offset, PageSize);
        Left = surveys.CountLeft();
    }
}
