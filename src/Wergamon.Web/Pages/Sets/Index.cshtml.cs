using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Deliver.Sticks;
using Wergamon.App.Sets;
using Wergamon.App.Tracks;
using Wergamon.Core.Naming;
using Wergamon.Core.Playlists;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages.Sets;

/// <summary>All sets, and where new ones are made.</summary>
public sealed class IndexModel(
    SetStore store, MusicSets sets, LibraryQueries library, LibraryParts parts, SetPlaylists playlists, BackgroundMusic background,
    SetsOnSticks sticks)
    : PageModel
{
    private const int MaxNamed = 8;

    private ILookup<long, SetOnStick> _onSticks = Enumerable.Empty<SetOnStick>().ToLookup(each => each.SetId);

    public IReadOnlyList<SetOverview> ByHand { get; private set; } = [];

    public IReadOnlyList<SetRow> ByRule { get; private set; } = [];

    [TempData]
    public string? Message { get; set; }

    /// <summary>True if the message is about a rejected rule.</summary>
    [TempData]
    public bool IsAboutRule { get; set; }

    /// <summary>True if all music is analysed when it is added.</summary>
    public bool IsBackgroundOn => background.IsWanted;

    /// <summary>Tracks whose tempo and key are not known.</summary>
    public int NotAnalysed { get; private set; }

    /// <summary>"384 of 412 tracks analysed; 28 left, about 4 minutes."</summary>
    public string AnalysisState
    {
        get
        {
            int all = library.CountTracks();
            if (NotAnalysed == 0)
                return all == 0 ? "Tracks are analysed on this machine; nothing is sent anywhere." : "All tracks are analysed.";
            var time = background.TimeLeft() is { } left ? $", about {Labels.RoughTime(left)}" : "";
            return $"{all - NotAnalysed:N0} of {Plural.Count(all, "track")} analysed; {NotAnalysed:N0} left{time}."
                + (IsBackgroundOn ? " They are analysed in the background." : "");
        }
    }

    public void OnGet()
    {
        var all = sets.Overview();
        ByHand = [.. all.Where(each => each.Set.Rule is null)];
        ByRule = [.. all.Select(each => each.Set).Where(set => set.Rule is not null)];
        _onSticks = sticks.Find(ByHand.Select(each => each.Set.Id).ToHashSet());
        NotAnalysed = background.CountLeft();
    }

    /// <summary>How many tracks a set by rule has now, and where it is: fetched by the page, since it is looked for anew.</summary>
    public IActionResult OnGetSize(long id)
    {
        if (sets.SizeOf(id) is not var (tracks, length))
            return NotFound();
        var where = SetLabels.OnSticks([.. sticks.Find(new HashSet<long> { id })[id]]);
        return Content($"{Plural.Count(tracks, "track")}, {Labels.Time(length)}{(where is null ? "" : ". " + where)}");
    }

    /// <summary>Where a set is, or what it would fit on, and what it lacks.</summary>
    public (string Words, string Lacks) WhereIs(SetOverview each)
    {
        string?[] lacks =
        [
            each.NotAnalysed > 0 ? $"{Plural.Count(each.NotAnalysed, "track")} not analysed" : null,
            each.Missing > 0 ? $"{Plural.Count(each.Missing, "file")} missing" : null,
        ];
        return (
            SetLabels.OnSticks([.. _onSticks[each.Set.Id]]) ?? SetLabels.OnNoStick(each.Set),
            string.Join(", ", lacks.Where(lack => lack is not null)));
    }

    public IActionResult OnPostBackground(bool isOn)
    {
        background.IsWanted = isOn;
        return RedirectToPage();
    }

    public IActionResult OnPostCreate(string? title)
    {
        var name = SetStore.TitleOf(title);
        if (store.Create(name.Length == 0 ? FreeTitle() : name) is { } id)
            return Redirect($"/sets/{id}");
        Message = $"There is a set called “{name}” already.";
        return RedirectToPage();
    }

    /// <summary>Makes a standing set.</summary>
    public IActionResult OnPostRule(string? title, TypedRule rule)
    {
        if (!ModelState.IsValid || rule.Problem is not null)
            Message = rule.Problem ?? TypedRule.Refused;
        else
        {
            var name = SetStore.TitleOf(title);
            if (store.Create(name.Length == 0 ? FreeTitle() : name, rule.ToRule()) is { } id)
                return Redirect($"/sets/{id}");
            Message = $"There is a set called “{name}” already.";
        }

        IsAboutRule = true;
        return RedirectToPage();
    }

    /// <summary>Renames a folder of sets.</summary>
    public IActionResult OnPostFolder(string? folder, string? name)
    {
        if (folder is { Length: > 0 })
            store.RenameFolder(folder, SetStore.FolderOf(name));
        return RedirectToPage();
    }

    /// <summary>Creates a set of the picked tracks; its title is chosen later.</summary>
    public IActionResult OnPostNew(PickedTracks picked)
    {
        var (tracks, _) = picked.In(library, parts);
        if (tracks.Count > 0 && store.Create(FreeTitle()) is { } id)
        {
            sets.Add(id, tracks);
            return Redirect($"/sets/{id}");
        }

        Message = "No track was picked that is still in the library.";
        return RedirectToPage();
    }

    /// <summary>Creates a set from a playlist file that was chosen or dropped.</summary>
    public async Task<IActionResult> OnPostImportAsync(IFormFile? file)
    {
        if (file is null || file.Length is 0 or > PlaylistFormat.MaxLength)
        {
            Message = file is null || file.Length == 0 ? "Choose a playlist file first." : "This file is too large for a playlist.";
            return RedirectToPage();
        }

        using var bytes = new MemoryStream();
        await file.CopyToAsync(bytes, HttpContext.RequestAborted);
        if (PlaylistFormat.ReadAny(bytes.GetBuffer().AsSpan(0, (int)bytes.Length)) is not { } playlist)
        {
            Message = $"{file.FileName} is no playlist that can be read. M3U, XSPF, cue sheets and CSV are.";
            return RedirectToPage();
        }

        var made = playlists.Import(playlist, SetStore.TitleOf(Path.GetFileNameWithoutExtension(file.FileName)));
        Message = ToldOf(made);
        return made.SetId is { } id ? Redirect($"/sets/{id}") : RedirectToPage();
    }

    /// <summary>What of a playlist was not found, by name.</summary>
    private static string? ToldOf(ImportedSet made)
    {
        if (made.NotFound.Count == 0)
            return null;
        var names = made.NotFound.Take(MaxNamed)
            .Select(entry => entry.Title.Length > 0 ? $"“{entry.Title}”" : $"“{Path.GetFileName(entry.Path)}”");
        var more = made.NotFound.Count > MaxNamed ? $" and {made.NotFound.Count - MaxNamed:N0} more" : "";
        return $"{(made.SetId is null ? "None of the tracks" : Plural.Count(made.NotFound.Count, "track"))} of the playlist "
            + $"{(made.SetId is null || made.NotFound.Count != 1 ? "are" : "is")} "
            + $"{(made.SetId is null ? "in the library" : "not in the library")}: {string.Join(", ", names)}{more}.";
    }

    private string FreeTitle()
    {
        var taken = store.List().Select(set => set.Title).ToHashSet(StringComparer.OrdinalIgnoreCase);
        return Enumerable.Range(1, taken.Count + 1)
            .Select(number => number == 1 ? "New set" : $"New set {number}")
            .First(title => !taken.Contains(title));
    }
}
