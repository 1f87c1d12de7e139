using System.Globalization;
using System.IO.Hashing;
using System.Text;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Deliver;
using Wergamon.App.Deliver.Sticks;
using Wergamon.App.Library.Listening;
using Wergamon.Core.Audio;
using Wergamon.Core.Tags;
using Wergamon.Devices.Decks;

namespace Wergamon.Web.Pages.Deliver.Sticks;

/// <summary>
/// A stick in the simulated deck: its lists, and what a person does there. Everything is read from the stick and written to it.
/// </summary>
public sealed class DeckModel(DeliveryStore store, DeckSlots slots, Playback playback) : PageModel
{
    /// <summary>Tempos that can be typed, in BPM.</summary>
    public const int MinTempo = 20, MaxTempo = 400;

    private const int MaxComment = 500, MaxSeconds = 86_400;

    private IDeck? _deck;

    public DeliveryRow Row { get; private set; } = null!;

    public IReadOnlyList<DeckList> Lists { get; private set; } = [];

    /// <summary>Null for an empty stick.</summary>
    public DeckList? Chosen { get; private set; }

    /// <summary>In order; null for one that is no longer on the stick.</summary>
    public IReadOnlyList<DeckTrack?> Tracks { get; private set; } = [];

    [TempData]
    public string? Message { get; set; }

    public string Here => $"/deliver/deck/{Row.Id}";

    /// <summary>Stands for a path in addresses.</summary>
    public static string KeyOf(string path) =>
        XxHash64.HashToUInt64(Encoding.UTF8.GetBytes(path)).ToString("x16", CultureInfo.InvariantCulture);

    public IActionResult OnGet(long id, string? list)
    {
        if (!Load(id, list))
            return NotFound();
        if (_deck is not null && Chosen is not null)
            Tracks = [.. Chosen.Tracks.Select(_deck.Track)];
        return Page();
    }

    /// <summary>A track to be listened to.</summary>
    public async Task<IActionResult> OnGetSoundAsync(long id, string? list, string track)
    {
        if (!Load(id, list) || Find(track) is not { } path || slots.FileOf(id, path) is not { } file)
            return NotFound();
        if (Playback.BrowserType(file) is { } type)
            return new PhysicalFileResult(file.Path, type) { EnableRangeProcessing = true };
        try
        {
            return new FileStreamResult(
                await playback.OpenAsync(file, HttpContext.RequestAborted), "audio/wav")
            { EnableRangeProcessing = true };
        }
        catch (UnreadableAudioException failure)
        {
            return new ContentResult { Content = failure.Message, StatusCode = StatusCodes.Status415UnsupportedMediaType };
        }
    }

    public IActionResult OnPostRate(long id, string? list, string track, int rating) =>
        Change(id, list, track, (deck, path) => deck.Write(path, new DeckNote { Rating = Math.Clamp(rating, 0, Rating.Max) }));

    public IActionResult OnPostComment(long id, string? list, string track, string? comment) =>
        Change(
            id, list, track,
            (deck, path) =>
                deck.Write(path, new DeckNote { Comment = (comment ?? "").Length > MaxComment ? comment![..MaxComment] : comment ?? "" }));

    /// <summary>The tempo of the grid; anything that is not a tempo changes nothing.</summary>
    public IActionResult OnPostTempo(long id, string? list, string track, string? tempo) => Change(id, list, track, (deck, path) =>
    {
        if (double.TryParse(tempo, NumberStyles.Float, CultureInfo.InvariantCulture, out double value)
            && value is >= MinTempo and <= MaxTempo)
            deck.Write(path, new DeckNote { Tempo = value });
        else
            Message = string.Create(
                CultureInfo.InvariantCulture, $"A tempo is between {MinTempo} and {MaxTempo} BPM. The track keeps its tempo.");
    });

    /// <summary>The position of the grid: a beat is at the current position.</summary>
    public IActionResult OnPostBeat(long id, string? list, string track, double seconds) => Change(id, list, track, (deck, path) =>
    {
        if (double.IsFinite(seconds) && seconds is >= 0 and < MaxSeconds)
            deck.Write(path, new DeckNote { FirstBeat = seconds });
    });

    /// <summary>Marks the place that is heard.</summary>
    public IActionResult OnPostMark(
        long id, string? list, string track, double seconds, string? title) => Change(id, list, track, (deck, path) =>
    {
        if (double.IsFinite(seconds) && seconds is >= 0 and < MaxSeconds && deck.Track(path) is { } known)
            deck.Write(
                path,
                new DeckNote
                {
                    Marks = [
                        .. known.Marks,
                        new ChapterMark(TimeSpan.FromMilliseconds(Math.Round(1000 * seconds)), (title ?? "").ReplaceLineEndings(" ").Trim())
                    ]
                });
    });

    public IActionResult OnPostUnmark(long id, string? list, string track) =>
        Change(id, list, track, (deck, path) => deck.Write(path, new DeckNote { Marks = [] }));

    public IActionResult OnPostDelete(long id, string? list, string track) => Change(id, list, track, (deck, path) => deck.Delete(path));

    /// <param name="by">Places: -1 is one up.</param>
    public IActionResult OnPostShift(long id, string? list, int place, int by) => Order(id, list, tracks =>
    {
        int to = place + by;
        if (place < 0 || place >= tracks.Count || to < 0 || to >= tracks.Count)
            return;
        (tracks[place], tracks[to]) = (tracks[to], tracks[place]);
    });

    public IActionResult OnPostTakeOut(long id, string? list, int place) => Order(id, list, tracks =>
    {
        if (place >= 0 && place < tracks.Count)
            tracks.RemoveAt(place);
    });

    private bool Load(long id, string? list)
    {
        if (store.Get(id) is not { Kind: DeliveryKind.Stick } row)
            return false;
        Row = row;
        _deck = slots.Open(id);
        Lists = _deck?.Lists() ?? [];
        Chosen = Lists.FirstOrDefault(each => KeyOf(each.Path) == list) ?? (Lists.Count > 0 ? Lists[0] : null);
        return true;
    }

    private string? Find(string? track) => Chosen?.Tracks.FirstOrDefault(path => KeyOf(path) == track);

    private IActionResult Change(long id, string? list, string track, Action<IDeck, string> change)
    {
        if (!Load(id, list))
            return NotFound();
        try
        {
            if (_deck is null)
                Message = "The stick is not there.";
            else if (Find(track) is { } path)
                change(_deck, path);
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException or UnreadableAudioException)
        {
            Message = failure.Message;
        }

        return Redirect($"{Here}?list={(Chosen is null ? "" : KeyOf(Chosen.Path))}");
    }

    private IActionResult Order(long id, string? list, Action<List<string>> change)
    {
        if (!Load(id, list))
            return NotFound();
        if (_deck is not null && Chosen is { CanBeOrdered: true })
        {
            var tracks = Chosen.Tracks.ToList();
            change(tracks);
            _deck.SetOrder(Chosen.Path, tracks);
        }

        return Redirect($"{Here}?list={(Chosen is null ? "" : KeyOf(Chosen.Path))}");
    }
}
