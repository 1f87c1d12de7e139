using System.Globalization;
using System.Text.Json;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Sets;
using Wergamon.App.Tracks;
using Wergamon.Core.Tags;

namespace Wergamon.Web.Pages.Sets;

/// <summary>The beat, the key and the marks of a track in a close view.</summary>
public sealed class TrackModel(MusicSets sets, TrackNotes notes, LibraryQueries library) : PageModel
{
    private const double MaxShiftSeconds = 10;

    public SetTrack Track { get; private set; } = null!;

    /// <summary>Null before the track is analysed.</summary>
    public MusicDetail? Detail { get; private set; }

    public IReadOnlyList<TrackMark> Marks { get; private set; } = [];

    /// <summary>The set from which the track was opened; null for none.</summary>
    public SetView? View { get; private set; }

    /// <summary>Chapters in the file that are no marks yet.</summary>
    public IReadOnlyList<ChapterMark> Chapters { get; private set; } = [];

    /// <summary>Why something was not taken.</summary>
    public string? Refusal { get; private set; }

    public string Address => $"/sets/tracks/{Track.TrackId}" + (View is null ? "" : $"?set={View.Set.Id}");

    /// <summary>Suggested marks that are not set yet.</summary>
    public IReadOnlyList<(double Seconds, string Title)> Proposed =>
        [.. (Detail?.Proposed(Track.Measured.FirstBeat) ?? []).Where(mark => !IsMarked(mark.Seconds))];

    public string? GridText =>
        Track.Grid is { } grid
            ? string.Create(CultureInfo.InvariantCulture, $"{grid.BeatsPerMinute:0.####} {grid.FirstBeat:0.####}")
            : null;

    public string MarksText => JsonSerializer.Serialize(Marks.Select(mark => new object[] { Math.Round(mark.Seconds, 3), mark.Title }));

    public IActionResult OnGet(long id, long? set) => Load(id, set) ? Page() : NotFound();

    public IActionResult OnPostFigures(long id, long? set, TypedFigures figures) =>
        Changed(id, set, track => Refusal = ModelState.IsValid ? figures.Save(notes, track) : TypedFigures.Refused);

    public IActionResult OnPostNote(long id, long? set, TypedNote note) => Changed(id, set, _ => note.Save(notes, id));

    /// <summary>Moves the grid: a beat to a position, by a shift, or back to the measured grid.</summary>
    /// <param name="seconds">Where a beat is.</param>
    /// <param name="by">Seconds to move it; beats with <paramref name="isInBeats"/>.</param>
    public IActionResult OnPostBeat(long id, long? set, double? seconds, double? by, bool isInBeats) => Changed(id, set, track =>
    {
        if (!ModelState.IsValid || track.Grid is not { } grid)
            return;
        if (seconds is { } beat && beat >= 0 && beat <= track.Length.TotalSeconds)
            notes.SetBeat(id, FirstBeat(beat, grid.Period));
        else if (by is { } shift && Math.Abs(shift) <= MaxShiftSeconds)
            notes.SetBeat(id, FirstBeat(grid.FirstBeat + (isInBeats ? shift * grid.Period : shift), grid.Period));
        else if (seconds is null && by is null)
            notes.SetBeat(id, null);
    });

    /// <param name="at">As typed or as played; on the beat with <paramref name="snap"/>.</param>
    public IActionResult OnPostMark(long id, long? set, string? at, string? title, bool snap) => Changed(id, set, track =>
    {
        if (PlaceIn(track, at, snap) is { } seconds && notes.AddMarks(id, [(seconds, title ?? "")]) == 0)
            Refusal = Marks.Count >= TrackNotes.MaxMarks
                ? $"A track has at most {TrackNotes.MaxMarks} marks."
                : "There is a mark at this place already.";
    });

    public IActionResult OnPostChange(long id, long? set, long mark, string? at, string? title, bool snap) => Changed(id, set, track =>
    {
        if (PlaceIn(track, at, snap) is { } seconds && Marks.Any(each => each.Id == mark))
            notes.ChangeMark(mark, seconds, title ?? "");
    });

    public IActionResult OnPostRemove(long id, long? set, long mark) => Changed(id, set, _ =>
    {
        if (Marks.Any(each => each.Id == mark))
            notes.RemoveMark(mark);
    });

    /// <summary>Keeps what the sound suggests.</summary>
    public IActionResult OnPostPropose(long id, long? set) => Changed(id, set, _ => notes.AddMarks(id, Proposed));

    /// <summary>Takes the chapters of the file over.</summary>
    public IActionResult OnPostChapters(long id, long? set) =>
        Changed(id, set, _ => notes.AddMarks(id, Chapters.Select(chapter => (chapter.Start.TotalSeconds, chapter.Title))));

    public IActionResult OnPostAnalyse(long id, long? set)
    {
        if (sets.AnalyseTrack(id) is { } run)
            return Redirect($"/runs/{run}");
        return RedirectToPage(new { id, set });
    }

    private IActionResult Changed(long id, long? set, Action<SetTrack> change)
    {
        if (!Load(id, set))
            return NotFound();
        change(Track);
        Load(id, set);
        return Page();
    }

    private bool Load(long id, long? set)
    {
        if (sets.Track(id) is not { } track)
            return false;
        (Track, Detail, Marks) = (track, sets.Detail(id), notes.Marks(id));
        View = set is { } open ? sets.View(open) : null;
        Chapters = [
            .. (
                ChapterMark.Parse([.. library.TagsOf(track.CopyId)[FieldNames.Chapters]])
                    ?? []).Where(chapter => !IsMarked(chapter.Start.TotalSeconds))
        ];
        return true;
    }

    private bool IsMarked(double seconds) => Marks.Any(mark => Math.Abs(mark.Seconds - seconds) < 0.001);

    /// <summary>Null, with a reason, for a position outside the track.</summary>
    private double? PlaceIn(SetTrack track, string? at, bool snap)
    {
        if (SetLabels.Seconds(at) is not { } seconds || seconds > track.Length.TotalSeconds)
        {
            Refusal = $"Type the time of a mark as minutes and seconds, up to {SetLabels.Place(track.Length.TotalSeconds)}; nothing was "
                + "changed.";
            return null;
        }

        return snap && track.Grid is { } grid ? grid.Nearest(seconds) : seconds;
    }

    /// <summary>The first of the beats that are a whole number of periods from one, from the start of the file on.</summary>
    private static double FirstBeat(double beat, double period) => beat - Math.Floor(beat / period) * period;
}
