using System.Text;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Sets;
using Wergamon.App.Tags;
using Wergamon.App.Tracks;
using Wergamon.Core.Music;
using Wergamon.Core.Naming;
using Wergamon.Core.Playlists;
using Wergamon.Core.Tags;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages.Sets;

/// <summary>A set: its tracks in order, the transitions, and suggestions for a place.</summary>
public sealed class SetModel(
    SetStore store, MusicSets sets, TrackNotes notes, SetPlaylists playlists, LibraryQueries library, LibraryParts parts, TagSheets sheets,
    CommentSchemes schemes)
    : PageModel
{
    /// <summary>Rows that are sent at once; the others follow when they come into view.</summary>
    public const int PartSize = 100;

    /// <summary>With more tracks than this, adding them again is not offered.</summary>
    private const int MaxAgain = 100;

    private const double MaxSpacingSeconds = 60;

    private HashSet<int> _shown = [];
    private Dictionary<long, (int Number, long ItemId)>? _firstPlaces;

    public SetView View { get; private set; } = null!;

    public IReadOnlyList<SetRow> Sets { get; private set; } = [];

    /// <summary>The chosen place; null before one is chosen.</summary>
    public SetLine? Place { get; private set; }

    public IReadOnlyList<SetTrack> Next { get; private set; } = [];

    [TempData]
    public string? Message { get; set; }

    /// <summary>Tracks that were not added because they are in the set, separated by commas.</summary>
    [TempData]
    public string? Again { get; set; }

    /// <summary>Why a figure was not taken.</summary>
    public string? Refusal { get; private set; }

    public KeyNotation Notation => sets.Notation;

    public SetRule? Rule => View.Set.Rule;

    /// <summary>The marks of the tracks that are shown.</summary>
    public ILookup<long, TrackMark> Marks { get; private set; } = null!;

    /// <summary>Folders that other sets are in.</summary>
    public IEnumerable<string> Folders =>
        Sets.Select(set => set.Folder).Where(folder => folder.Length > 0).Distinct(StringComparer.OrdinalIgnoreCase);

    /// <summary>The parts of the list that the browser already shows, by number from 0, separated by commas.</summary>
    [FromForm(Name = "parts")]
    public string? ShownParts { get; set; }

    public int NotAnalysed => View.Lines.Count(line => line.Track is { IsAnalysed: false, IsMissing: false });

    public string Summary =>
        View.Lines.Count == 0 ? "No tracks yet." : $"{Plural.Count(View.Lines.Count, "track")}, {Words.Time(View.Duration)}";

    /// <param name="at">The item that was chosen.</param>
    public IActionResult OnGet(long id, long? at) => Load(id, at) ? Page() : NotFound();

    /// <summary>Rows further down, when they come into view.</summary>
    public IActionResult OnGetPart(long id, int part, long? at) => LoadLines(id, at) ? Partial("_Rows", (this, part)) : NotFound();

    public IActionResult OnGetPlaylist(long id, string? format)
    {
        if (PlaylistFormat.Find(format) is not { } kind || sets.View(id) is not { } view)
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
        var (added, known) = sets.Add(id, tracks);
        Message = Outcome(added, known.Count);
        if (known.Count is > 0 and <= MaxAgain)
            Again = string.Join(',', known);
        return RedirectToPage(new { id });
    }

    /// <summary>Adds tracks again that are already in the set.</summary>
    public IActionResult OnPostAgain(long id, string? again)
    {
        sets.Add(id, PickedTracks.NumbersIn(again), isAgain: true);
        return RedirectToPage(new { id });
    }

    /// <summary>Adds a track after a place.</summary>
    public IActionResult OnPostInsert(long id, long trackId, long? at)
    {
        sets.Add(id, [trackId], ItemAfter(id, at));
        return Shown(id, at);
    }

    /// <param name="before">The item that the picked ones go in front of; null for the end.</param>
    /// <param name="after">The item that they follow, if the browser does not know the next one.</param>
    public IActionResult OnPostMove(long id, string? items, long? before, long? after, long? at)
    {
        sets.Move(id, Picked(items), after is null ? before : ItemAfter(id, after));
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

    /// <summary>The person's own figures of a track; empty ones are as measured.</summary>
    public IActionResult OnPostFigures(long id, long at, TypedFigures figures)
    {
        if (sets.View(id)?.Lines.FirstOrDefault(line => line.ItemId == at) is not { } line)
            return NotFound();
        Refusal = ModelState.IsValid ? figures.Save(notes, line.Track) : TypedFigures.Refused;
        return Shown(id, at);
    }

    /// <summary>Rating, energy or comment, set while listening.</summary>
    public IActionResult OnPostNote(long id, long trackId, TypedNote note, long? at)
    {
        note.Save(notes, trackId);
        return Shown(id, at);
    }

    /// <summary>Marks a place in a track.</summary>
    public IActionResult OnPostMark(long id, long trackId, double seconds, long? at)
    {
        if (ModelState.IsValid && sets.Track(trackId) is { } track && seconds >= 0 && seconds <= track.Length.TotalSeconds)
            notes.AddMarks(trackId, [(track.Grid?.Nearest(seconds) ?? seconds, "")]);
        return Shown(id, at);
    }

    /// <summary>Opens the chosen figures of all tracks as changes of their tags, to be reviewed and written there.</summary>
    public IActionResult OnPostTags(long id, SetTagChoice choice, KeySpelling spelling, string? own)
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
        var tracks = view.Lines.Select(line => line.Track).Where(track => !track.IsMissing).DistinctBy(track => track.CopyId).ToList();
        if (tracks.Count > TagSheets.MaxFiles)
        {
            Message = $"Tags of at most {TagSheets.MaxFiles:N0} files are written at a time; this set has {tracks.Count:N0}.";
            return RedirectToPage(new { id });
        }

        var (marks, scheme) = (notes.Marks(tracks.Select(track => track.TrackId)), schemes.Current);
        var changes = tracks
            .SelectMany(
                track =>
                    SetTags.Of(
                        track, marks[track.TrackId], choice.Comment ? library.TagsOf(track.CopyId) : new TagSet(), choice, notation,
                        scheme),
                (track, field) => (track.CopyId, field.Name, field.Values))
            .ToList();
        if (changes.Count == 0)
        {
            Message = "There is nothing to write: analyse the tracks first, and choose what is written.";
            return RedirectToPage(new { id });
        }

        long sheet = sheets.Create(view.Set.Title, [.. changes.Select(change => change.CopyId).Distinct()]);
        sheets.SetFields(sheet, changes);
        return Redirect($"/tags/{sheet}/review");
    }

    /// <summary>Changes the rule of a set.</summary>
    public IActionResult OnPostRule(long id, TypedRule rule)
    {
        if (!ModelState.IsValid || rule.Problem is not null)
            Message = rule.Problem ?? TypedRule.Refused;
        else
            store.ChangeRule(id, rule.ToRule());
        return RedirectToPage(new { id });
    }

    /// <summary>Converts a set by rule to a manual set.</summary>
    public IActionResult OnPostFixed(long id) => sets.MakeFixed(id) is { } made ? Redirect($"/sets/{made}") : NotFound();

    public IActionResult OnPostAnalyse(long id)
    {
        if (sets.Analyse(id) is { } run)
            return Redirect($"/runs/{run}");
        Message = "All tracks of this set have been analysed.";
        return RedirectToPage(new { id });
    }

    /// <param name="gap">In seconds; anything that is not a number changes nothing, as for the crossfade.</param>
    public IActionResult OnPostDetails(
        long id, string? title, string? remarks, string? folder, DateOnly? heldOn, double? gap, double? crossfade)
    {
        if (store.Get(id) is not { } set)
            return NotFound();
        var name = SetStore.TitleOf(title);
        if (name.Length > 0 && !store.Rename(id, name))
            Message = $"There is a set called “{name}” already; this one keeps its name.";
        store.SetDetails(id, (remarks ?? "").Trim(), SetStore.FolderOf(folder), heldOn);
        store.SetSpacing(id, Milliseconds(gap) ?? set.GapMs, Milliseconds(crossfade) ?? set.CrossfadeMs);
        return RedirectToPage(new { id });
    }

    public IActionResult OnPostDelete(long id)
    {
        store.Remove(id);
        return Redirect("/sets");
    }

    private long? ItemAfter(long id, long? item) =>
        sets.View(id)?.Lines.SkipWhile(line => line.ItemId != item).Skip(1).FirstOrDefault()?.ItemId;

    private IActionResult Shown(long id, long? at) => Load(id, at) ? Page() : NotFound();

    private bool LoadLines(long id, long? at)
    {
        if (sets.View(id) is not { } view)
            return false;
        View = view;
        Place = view.Lines.FirstOrDefault(line => line.ItemId == at);
        Marks = notes.Marks(view.Lines.Select(line => line.Track.TrackId));
        return true;
    }

    private bool Load(long id, long? at)
    {
        if (!LoadLines(id, at))
            return false;
        Sets = store.List();
        _shown = [0, .. (ShownParts ?? "").Split(',').Select(part => int.TryParse(part, out int number) ? number : 0)];
        if (Place is null)
            return true;
        _shown.Add(View.Lines.TakeWhile(line => line.ItemId != at).Count() / PartSize);
        if (Rule is null)
            Next = sets.NextAfter(View, Place);
        return true;
    }

    /// <summary>The number of the first place that has the same track as a later one; null for that place itself.</summary>
    public int? EarlierPlaceOf(SetLine line)
    {
        if (_firstPlaces is null)
        {
            _firstPlaces = [];
            foreach (var (index, each) in View.Lines.Index())
            {
                if (each.Track.TrackId > 0)
                    _firstPlaces.TryAdd(each.Track.TrackId, (index + 1, each.ItemId));
            }
        }

        return _firstPlaces.TryGetValue(line.Track.TrackId, out var first) && first.ItemId != line.ItemId ? first.Number : null;
    }

    /// <summary>True for a part that is sent with the page.</summary>
    public bool IsShown(int part) => _shown.Contains(part);

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
