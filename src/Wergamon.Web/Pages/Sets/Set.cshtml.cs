using System.Text;
using Microsoft.AspNetCore.Mvc;
using Wergamon.App.Sets;
using Wergamon.App.Tracks;
using Wergamon.Core.Music;
using Wergamon.Core.Naming;
using Wergamon.Core.Playlists;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages.Sets;

/// <summary>A set: its tracks in order, the transitions, and suggestions for a place.</summary>
public sealed class SetModel(
    SetStore store, MusicSets sets, TrackNotes notes, SetPlaylists playlists, LibraryQueries library, LibraryParts parts,
    SetTagSheets tagSheets)
    : SetPageModel(store, sets, notes)
{
    /// <summary>With more tracks than this, adding them again is not offered.</summary>
    private const int MaxAgain = 100;

    private const double MaxSpacingSeconds = 60;

    [TempData]
    public string? Message { get; set; }

    /// <summary>Tracks that were not added because they are in the set, separated by commas.</summary>
    [TempData]
    public string? Again { get; set; }

    /// <param name="at">The item that was chosen.</param>
    public IActionResult OnGet(long id, long? at) => Load(id, at) ? Page() : NotFound();

    /// <summary>Rows further down, when they come into view.</summary>
    public IActionResult OnGetPart(long id, int part, long? at) => LoadLines(id, at) ? Partial("_Rows", (this, part)) : NotFound();

    public IActionResult OnGetPlaylist(long id, string? format)
    {
        if (PlaylistFormat.Find(format) is not { } kind || Sets.View(id) is not { } view)
            return NotFound();
        if (view.Lines.Count <= kind.MaxTracks)
            return File(
                Encoding.UTF8.GetBytes(kind.Write(playlists.Of(view))), kind.MimeType, SafeFileName.From(view.Set.Title, kind.Extension));
        Message = $"A {kind.Name} file holds {kind.MaxTracks} tracks at most; this set has {view.Lines.Count:N0}. Save it in another form.";
        return RedirectToPage(new { id });
    }

    public IActionResult OnPostAdd(long id, PickedTracks picked)
    {
        var (tracks, _) = picked.In(library, parts);
        var (added, known) = Sets.Add(id, tracks);
        Message = Outcome(added, known.Count);
        if (known.Count is > 0 and <= MaxAgain)
            Again = string.Join(',', known);
        return RedirectToPage(new { id });
    }

    /// <summary>Adds tracks again that are already in the set.</summary>
    public IActionResult OnPostAgain(long id, string? again)
    {
        Sets.Add(id, PickedTracks.NumbersIn(again), isAgain: true);
        return RedirectToPage(new { id });
    }

    /// <summary>Adds a track after a place.</summary>
    public IActionResult OnPostInsert(long id, long trackId, long? at)
    {
        Sets.Add(id, [trackId], ItemAfter(id, at));
        return Shown(id, at);
    }

    /// <param name="before">The item that the picked ones go in front of; null for the end.</param>
    /// <param name="after">The item that they follow, if the browser does not know the next one.</param>
    public IActionResult OnPostMove(long id, string? items, long? before, long? after, long? at)
    {
        Sets.Move(id, Picked(items), after is null ? before : ItemAfter(id, after));
        return Shown(id, at);
    }

    public IActionResult OnPostShift(long id, string? items, int by, long? at)
    {
        Sets.Shift(id, Picked(items), by);
        return Shown(id, at);
    }

    public IActionResult OnPostSort(long id, string? items, SetSort sort, bool descending, long? at)
    {
        Sets.Sort(id, Picked(items), sort, descending);
        return Shown(id, at);
    }

    public IActionResult OnPostReverse(long id, string? items, long? at)
    {
        Sets.Reverse(id, Picked(items));
        return Shown(id, at);
    }

    public IActionResult OnPostShuffle(long id, string? items, long? at)
    {
        Sets.Shuffle(id, Picked(items));
        return Shown(id, at);
    }

    public IActionResult OnPostRemove(long id, string? items, long? at)
    {
        Sets.Remove(id, Picked(items));
        return Shown(id, at);
    }

    public IActionResult OnPostUndo(long id, long? at)
    {
        Sets.Undo(id);
        return Shown(id, at);
    }

    /// <summary>The person's own figures of a track; empty ones are as measured.</summary>
    public IActionResult OnPostFigures(long id, long at, TypedFigures figures)
    {
        if (Sets.View(id)?.Lines.FirstOrDefault(line => line.ItemId == at) is not { } line)
            return NotFound();
        Refusal = ModelState.IsValid ? figures.Save(Notes, line.Track) : TypedFigures.Refused;
        return Shown(id, at);
    }

    /// <summary>Rating, energy or comment, set while listening.</summary>
    public IActionResult OnPostNote(long id, long trackId, TypedNote note, long? at)
    {
        note.Save(Notes, trackId);
        return Shown(id, at);
    }

    /// <summary>Marks a place in a track.</summary>
    public IActionResult OnPostMark(long id, long trackId, double seconds, long? at)
    {
        if (ModelState.IsValid && Sets.Track(trackId) is { } track && seconds >= 0 && seconds <= track.Length.TotalSeconds)
            Notes.AddMarks(trackId, [(track.Grid?.Nearest(seconds) ?? seconds, "")]);
        return Shown(id, at);
    }

    /// <summary>Opens the chosen figures of all tracks as changes of their tags, to be reviewed and written there.</summary>
    public IActionResult OnPostTags(long id, SetTagChoice choice, KeySpelling spelling, string? own)
    {
        if (Sets.View(id) is not { } view)
            return NotFound();
        var (sheet, refusal) = tagSheets.Open(view, choice, spelling, own);
        if (sheet is { } opened)
            return Redirect($"/tags/{opened}/review");
        Message = refusal;
        return RedirectToPage(new { id });
    }

    /// <summary>Changes the rule of a set.</summary>
    public IActionResult OnPostRule(long id, TypedRule rule)
    {
        if (!ModelState.IsValid || rule.Problem is not null)
            Message = rule.Problem ?? TypedRule.Refused;
        else
            Store.ChangeRule(id, rule.ToRule());
        return RedirectToPage(new { id });
    }

    /// <summary>Converts a set by rule to a manual set.</summary>
    public IActionResult OnPostFixed(long id) => Sets.MakeFixed(id) is { } made ? Redirect($"/sets/{made}") : NotFound();

    public IActionResult OnPostAnalyse(long id)
    {
        if (Sets.Analyse(id) is { } run)
            return Redirect($"/runs/{run}");
        Message = "All tracks of this set have been analysed.";
        return RedirectToPage(new { id });
    }

    /// <param name="gap">In seconds; anything that is not a number changes nothing, as for the crossfade.</param>
    public IActionResult OnPostDetails(
        long id, string? title, string? remarks, string? folder, DateOnly? heldOn, double? gap, double? crossfade)
    {
        if (Store.Get(id) is not { } set)
            return NotFound();
        var name = SetStore.TitleOf(title);
        if (name.Length > 0 && !Store.Rename(id, name))
            Message = $"There is a set called “{name}” already; this one keeps its name.";
        Store.SetDetails(id, (remarks ?? "").Trim(), SetStore.FolderOf(folder), heldOn);
        Store.SetSpacing(id, Milliseconds(gap) ?? set.GapMs, Milliseconds(crossfade) ?? set.CrossfadeMs);
        return RedirectToPage(new { id });
    }

    public IActionResult OnPostDelete(long id)
    {
        Store.Remove(id);
        return Redirect("/sets");
    }

    private long? ItemAfter(long id, long? item) =>
        Sets.View(id)?.Lines.SkipWhile(line => line.ItemId != item).Skip(1).FirstOrDefault()?.ItemId;

    private static HashSet<long> Picked(string? items) => [.. PickedTracks.NumbersIn(items)];

    private static long? Milliseconds(double? seconds) =>
        seconds is { } length && double.IsFinite(length) ? (long)(1000 * Math.Clamp(length, 0, MaxSpacingSeconds)) : null;

    private static string? Outcome(int added, int known) => (added, known) switch
    {
        (0, 0) => "No track was picked that is still in the library.",
        (0, _) => $"{Plural.Count(known, "track")} of these {(known == 1 ? "is" : "are")} in the set already; nothing was added.",
        (_, 0) => null,
        _ => $"{Plural.Count(added, "track")} added; {known:N0} of these {(known == 1 ? "was" : "were")} in the set already.",
    };
}
