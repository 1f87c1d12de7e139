using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Sets;
using Wergamon.Core.Music;
using Wergamon.Core.Naming;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages.Sets;

/// <summary>What the page of a set shows.</summary>
public abstract class SetPageModel(SetStore store, MusicSets sets, TrackNotes notes) : PageModel
{
    /// <summary>Rows that are sent at once; the others follow when they come into view.</summary>
    public const int PartSize = 100;

    private HashSet<int> _shown = [];
    private Dictionary<long, (int Number, long ItemId)>? _firstPlaces;

    protected SetStore Store => store;

    protected MusicSets Sets => sets;

    protected TrackNotes Notes => notes;

    public SetView View { get; private set; } = null!;

    public IReadOnlyList<SetRow> AllSets { get; private set; } = [];

    /// <summary>The chosen place; null before one is chosen.</summary>
    public SetLine? Place { get; private set; }

    public IReadOnlyList<SetTrack> Next { get; private set; } = [];

    /// <summary>Why a figure was not taken.</summary>
    public string? Refusal { get; protected set; }

    public KeyNotation Notation => Sets.Notation;

    public SetRule? Rule => View.Set.Rule;

    /// <summary>The marks of the tracks that are shown.</summary>
    public ILookup<long, TrackMark> Marks { get; private set; } = null!;

    /// <summary>Folders that other sets are in.</summary>
    public IEnumerable<string> Folders =>
        AllSets.Select(set => set.Folder).Where(folder => folder.Length > 0).Distinct(StringComparer.OrdinalIgnoreCase);

    /// <summary>The parts of the list that the browser already shows, by number from 0, separated by commas.</summary>
    [FromForm(Name = "parts")]
    public string? ShownParts { get; set; }

    public int NotAnalysed => View.Lines.Count(line => line.Track is { Measured.IsAnalysed: false, IsMissing: false });

    public string Summary =>
        View.Lines.Count == 0 ? "No tracks yet." : $"{Plural.Count(View.Lines.Count, "track")}, {Labels.Time(View.Duration)}";

    protected IActionResult Shown(long id, long? at) => Load(id, at) ? Page() : NotFound();

    protected bool LoadLines(long id, long? at)
    {
        if (Sets.View(id) is not { } view)
            return false;
        View = view;
        Place = view.Lines.FirstOrDefault(line => line.ItemId == at);
        Marks = Notes.Marks(view.Lines.Select(line => line.Track.TrackId));
        return true;
    }

    protected bool Load(long id, long? at)
    {
        if (!LoadLines(id, at))
            return false;
        AllSets = Store.List();
        _shown = [0, .. (ShownParts ?? "").Split(',').Select(part => int.TryParse(part, out int number) ? number : 0)];
        if (Place is null)
            return true;
        _shown.Add(View.Lines.TakeWhile(line => line.ItemId != at).Count() / PartSize);
        if (Rule is null)
            Next = Sets.NextAfter(View, Place);
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
}
