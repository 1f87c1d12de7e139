using System.Text;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Library;
using Wergamon.App.Sets;
using Wergamon.App.Tags;
using Wergamon.Core.Music;
using Wergamon.Core.Naming;
using Wergamon.Core.Playlists;
using Wergamon.Core.Tags;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages.Sets;

/// <summary>A set: its tracks in order, what leads from one to the next, and what fits at a place.</summary>
public sealed class SetModel(SetStore store, MusicSets sets, LibraryQueries library, LibraryParts parts, TagSheets sheets) : PageModel
{
    private const double MaxSpacingSeconds = 60, LeastTempo = 20, MostTempo = 400;

    public SetView View { get; private set; } = null!;

    public IReadOnlyList<SetRow> Sets { get; private set; } = [];

    /// <summary>The chosen place; null before one is chosen.</summary>
    public SetLine? Place { get; private set; }

    public IReadOnlyList<SetTrack> Next { get; private set; } = [];

    [TempData]
    public string? Message { get; set; }

    /// <summary>Why a figure was not taken.</summary>
    public string? Refusal { get; private set; }

    public KeyNotation Notation => sets.Notation;

    public int NotAnalysed => View.Lines.Count(line => line.Track is { IsAnalysed: false, IsMissing: false });

    public string Summary => View.Lines.Count == 0 ? "No tracks yet." : $"{Words.Count(View.Lines.Count, "track")}, {Words.Time(View.Set.Duration)}";

    /// <param name="at">The item that was chosen.</param>
    public IActionResult OnGet(long id, long? at) => Load(id, at) ? Page() : NotFound();

    public IActionResult OnGetPlaylist(long id, string? format) => PlaylistFormat.Find(format) is { } kind && sets.View(id) is { } view
        ? File(Encoding.UTF8.GetBytes(kind.Write(SetPlaylists.Of(view))), kind.MimeType, SafeFileName.From(view.Set.Title, kind.Extension))
        : NotFound();

    public IActionResult OnPostAdd(long id, PickedTracks picked)
    {
        var (tracks, _) = picked.In(library, parts);
        var (added, known) = sets.Add(id, tracks);
        Message = Told(added, known);
        return RedirectToPage(new { id });
    }

    /// <summary>Adds a track after a place.</summary>
    public IActionResult OnPostInsert(long id, long trackId, long? at)
    {
        var view = sets.View(id);
        var next = view?.Lines.SkipWhile(line => line.ItemId != at).Skip(1).FirstOrDefault()?.ItemId;
        sets.Add(id, [trackId], next);
        return Shown(id, at);
    }

    /// <param name="before">The item that the picked ones go in front of; null for the end.</param>
    public IActionResult OnPostMove(long id, string? items, long? before, long? at)
    {
        sets.Move(id, Picked(items), before);
        return Shown(id, at);
    }

    public IActionResult OnPostShift(long id, string? items, int by, long? at)
    {
        sets.Shift(id, Picked(items), by);
        return Shown(id, at);
    }

    public IActionResult OnPostSort(long id, string? items, SetSort sort, bool descending, long? at)
    {
        sets.Sort(id, Picked(items), sort, descending);
        return Shown(id, at);
    }

    public IActionResult OnPostReverse(long id, string? items, long? at)
    {
        sets.Reverse(id, Picked(items));
        return Shown(id, at);
    }

    public IActionResult OnPostShuffle(long id, string? items, long? at)
    {
        sets.Shuffle(id, Picked(items));
        return Shown(id, at);
    }

    public IActionResult OnPostRemove(long id, string? items, long? at)
    {
        sets.Remove(id, Picked(items));
        return Shown(id, at);
    }

    public IActionResult OnPostUndo(long id, long? at)
    {
        sets.Undo(id);
        return Shown(id, at);
    }

    /// <summary>What the person says of a track; what is left empty is as measured.</summary>
    public IActionResult OnPostFigures(long id, long at, double? tempo, string? key, int? energy)
    {
        if (sets.View(id)?.Lines.FirstOrDefault(line => line.ItemId == at) is not { } line)
            return NotFound();
        if (!ModelState.IsValid || tempo is not (null or (>= LeastTempo and <= MostTempo)) || energy is not (null or (>= 1 and <= 5)))
        {
            Refusal = $"Tempos go from {LeastTempo} to {MostTempo} beats a minute, energy from 1 to 5; nothing was changed.";
            return Shown(id, at);
        }

        // A figure that says what was measured is none of one's own.
        var figures = line.Track.Measured;
        double? own = tempo is not null && !(Math.Abs(tempo.Value - (figures.Tempo ?? 0)) < 0.005) ? tempo : null;
        var ownKey = MusicalKey.TryParse(key, out var said) && said != figures.Key ? said : null;
        store.SetOwn(line.Track.TrackId, own, ownKey, energy != figures.Energy ? energy : null);
        return Shown(id, at);
    }

    /// <summary>Opens tempo and key of all tracks as changes of their tags, to be reviewed and written there.</summary>
    public IActionResult OnPostTags(long id, bool tempo, bool key, KeySpelling spelling, string? own)
    {
        if (sets.View(id) is not { } view)
            return NotFound();
        string[] words = [.. (own ?? "").Split('\n').Select(word => word.Trim()).Where(word => word.Length > 0)];
        if (spelling == KeySpelling.Own && KeyNotation.ProblemOf(words) is { } problem)
        {
            Message = problem;
            return RedirectToPage(new { id });
        }

        var notation = sets.Notation = new KeyNotation(spelling, words);
        var changes = new List<(long CopyId, string Field, IReadOnlyList<string> Values)>();
        foreach (var track in view.Lines.Select(line => line.Track).Where(track => !track.IsMissing).DistinctBy(track => track.CopyId))
        {
            if (tempo && track is { Tempo: not null, Drifts: false })
                changes.Add((track.CopyId, FieldNames.Tempo, [SetWords.Exact(track.Tempo)]));
            if (key && track.Key is { } known)
                changes.Add((track.CopyId, FieldNames.Key, [notation.Write(known)]));
        }

        if (changes.Count == 0)
        {
            Message = "There is nothing to write: analyse the tracks first, and choose what is written.";
            return RedirectToPage(new { id });
        }

        long sheet = sheets.Create(view.Set.Title, [.. changes.Select(change => change.CopyId).Distinct()]);
        sheets.SetFields(sheet, changes);
        return Redirect($"/tags/{sheet}/review");
    }

    public IActionResult OnPostAnalyse(long id)
    {
        if (sets.Analyse(id) is { } run)
            return Redirect($"/runs/{run}");
        Message = "All tracks of this set have been analysed.";
        return RedirectToPage(new { id });
    }

    /// <param name="gap">In seconds; what is no number changes nothing, as for the crossfade.</param>
    public IActionResult OnPostDetails(long id, string? title, string? notes, double? gap, double? crossfade)
    {
        if (store.Get(id) is not { } set)
            return NotFound();
        var name = SetStore.TitleOf(title);
        if (name.Length > 0 && !store.Rename(id, name))
            Message = $"There is a set called “{name}” already; this one keeps its name.";
        store.SetNotes(id, (notes ?? "").Trim());
        store.SetSpacing(id, Milliseconds(gap) ?? set.GapMs, Milliseconds(crossfade) ?? set.CrossfadeMs);
        return RedirectToPage(new { id });
    }

    public IActionResult OnPostDelete(long id)
    {
        store.Remove(id);
        return Redirect("/sets");
    }

    private IActionResult Shown(long id, long? at) => Load(id, at) ? Page() : NotFound();

    private bool Load(long id, long? at)
    {
        if (sets.View(id) is not { } view)
            return false;
        (View, Sets) = (view, store.List());
        Place = view.Lines.FirstOrDefault(line => line.ItemId == at);
        if (Place is not null)
            Next = sets.NextAfter(view, Place);
        return true;
    }

    private static HashSet<long> Picked(string? items) => [.. PickedTracks.NumbersIn(items)];

    private static long? Milliseconds(double? seconds) => seconds is { } length && double.IsFinite(length) ? (long)(1000 * Math.Clamp(length, 0, MaxSpacingSeconds)) : null;

    private static string? Told(int added, int known) => (added, known) switch
    {
        (0, 0) => "No track was picked that is still in the library.",
        (0, _) => $"{Words.Count(known, "track")} of these {(known == 1 ? "is" : "are")} in the set already; nothing was added.",
        (_, 0) => null,
        _ => $"{Words.Count(added, "track")} added; {known:N0} of these {(known == 1 ? "was" : "were")} in the set already.",
    };
}
