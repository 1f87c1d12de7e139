using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Bench;
using Wergamon.App.Tracks;

namespace Wergamon.Web.Pages.Bench;

/// <summary>Choosing two copies to compare: of one track, or of any two.</summary>
public sealed class CompareModel(NullTests tests, LibraryQueries library, TrackList list, BenchRails rails) : PageModel
{
    private const int MaxListed = 60;

    public BenchRail Rail => rails.Make();

    public IReadOnlyList<TrackLine> Tracks { get; private set; } = [];

    /// <summary>The copy that was chosen as A; null before.</summary>
    public CopyRow? First { get; private set; }

    public TrackRow? FirstTrack { get; private set; }

    public string SearchWords { get; private set; } = "";

    /// <summary>False if all tracks with several copies are listed.</summary>
    public bool IsSearch => SearchWords.Length > 0;

    /// <summary>Why the typed text was rejected, and the text.</summary>
    public string? Refusal { get; private set; }

    public string? FirstFile { get; private set; }

    public string? SecondFile { get; private set; }

    public void OnGet(string? words, long? first)
    {
        SearchWords = (words ?? "").Trim();
        First = first is { } id ? library.Copy(id) : null;
        FirstTrack = First is { } copy && library.TracksById([copy.TrackId]) is [var track] ? track : null;
        // Once A is chosen, other recordings of its title are the most likely B.
        var wanted = IsSearch || First is null ? SearchWords : FirstTrack?.Title ?? "";
        Tracks = list.Page(
            new TrackView(
                wanted, IsSearch || First is not null ? [] : [TrackFilter.SeveralCopies], null, null, TrackSort.Added,
                IsDescending: true),
            0, MaxListed);
    }

    /// <summary>Compares two files by their paths.</summary>
    public async Task<IActionResult> OnPostFilesAsync(string? firstFile, string? secondFile, bool level)
    {
        var (id, problem) = await tests.StartFilesAsync(firstFile, secondFile, level, HttpContext.RequestAborted);
        if (id is not null)
            return Redirect($"/bench/tests/{id}");
        OnGet(null, null);
        (Refusal, FirstFile, SecondFile) = (problem, firstFile, secondFile);
        return Page();
    }
}
