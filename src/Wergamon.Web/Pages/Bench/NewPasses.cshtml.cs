using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Bench;
using Wergamon.App.Copies;
using Wergamon.App.Tracks;
using Wergamon.Core.Planning;

namespace Wergamon.Web.Pages.Bench;

/// <summary>Choosing what is encoded repeatedly, with which targets and how often.</summary>
public sealed class NewPassesModel(Passes passes, LibraryQueries library, TrackList list, TargetChoices targets, BenchRails rails)
    : PageModel
{
    private const int MaxListed = 60, UsualCount = 8;

    public BenchRail Rail => rails.Make();

    public CopyRow? Copy { get; private set; }

    public TrackRow? Track { get; private set; }

    public IReadOnlyList<TrackLine> Tracks { get; private set; } = [];

    public string SearchWords { get; private set; } = "";

    public IReadOnlyList<Target> Targets => targets.All();

    public IReadOnlyList<string> Chosen { get; private set; } = [];

    public int Count { get; private set; } = UsualCount;

    /// <summary>Why it was not started.</summary>
    public string? Refusal { get; private set; }

    public void OnGet(long? copy, string? words) => Load(copy, words);

    public IActionResult OnPost(long copy, string[] target, int count)
    {
        Load(copy, null);
        (Chosen, Count) = (target, count);
        var chosen = Targets.Where(each => target.Contains(each.Key)).ToList();
        Refusal = Copy is null ? "This file is no longer in the library."
            : chosen.Count == 0 ? "Choose at least one target."
            : chosen.Count > Passes.MaxTargets ? $"Choose at most {Passes.MaxTargets} targets."
            : count is < 1 or > Passes.MaxCount || !ModelState.IsValid ? $"Type a number of passes from 1 to {Passes.MaxCount}."
            : null;
        if (Refusal is null && passes.Start(copy, chosen, count) is { } id)
            return Redirect($"/bench/passes/{id}");
        Refusal ??= "This file is missing.";
        return Page();
    }

    private void Load(long? copy, string? words)
    {
        SearchWords = (words ?? "").Trim();
        Copy = copy is { } id ? library.Copy(id) : null;
        Track = Copy is not null && library.TracksById([Copy.TrackId]) is [var track] ? track : null;
        if (Copy is null)
            Tracks = list.Page(new TrackView(SearchWords, [], null, null, TrackSort.Added, IsDescending: true), 0, MaxListed);
    }
}
