using System.Globalization;
using System.Text;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Deliver;
using Wergamon.App.Deliver.Discs;
using Wergamon.App.Deliver.Files;
using Wergamon.App.Deliver.Sticks;
using Wergamon.App.Files;
using Wergamon.App.Sets;
using Wergamon.App.Tracks;
using Wergamon.Core.Naming;
using Wergamon.Core.Playlists;
using Wergamon.Core.Sticks;
using Wergamon.Devices.Drives;
using Wergamon.Web.Display;
using Wergamon.Web.Endpoints;

namespace Wergamon.Web.Pages.Deliver;

/// <summary>A stick as it is listed.</summary>
/// <param name="Lists">Titles of what should be on it.</param>
/// <param name="Files">How many were written to it.</param>
public sealed record KnownStick(DeliveryRow Row, string Place, string Device, IReadOnlyList<string> Lists, int Files, bool IsThere);

/// <summary>What is to go out, and the discs that were burned.</summary>
public sealed class IndexModel(
    DeliveryStore store, AudioDiscs discs, DataDiscs dataDiscs, JoinedFiles joined, ZippedFiles zips, BurnerBay bay, LibraryQueries library,
    LibraryParts parts, MusicSets sets, MusicSticks sticks, StickStore stickFiles, DeviceChoices devices, AllowedPaths allowed)
    : PageModel
{
    public IReadOnlyList<DeliveryRow> Deliveries { get; private set; } = [];

    /// <summary>The sticks that are known, with what is on them.</summary>
    public IReadOnlyList<KnownStick> Sticks
    {
        get
        {
            var files = stickFiles.CountFiles();
            return [.. sticks.List().Select(row => new KnownStick(
                row, StickSettings.Of(row).Place, devices.Get(StickSettings.Of(row).DeviceKey).Name,
                [.. stickFiles.Lists(row.Id).Select(list => list.Title)], files.GetValueOrDefault(row.Id), sticks.IsThere(row)))];
        }
    }

    public IReadOnlyList<DeviceDescription> Devices => devices.All();

    public IReadOnlyList<RackDisc> Burned => bay.Written();

    [TempData]
    public string? Message { get; set; }

    public void OnGet() => Deliveries = [.. store.List().Where(row => row.Kind != DeliveryKind.Stick)];

    /// <summary>Plans what picked tracks go out as.</summary>
    public IActionResult OnPostTracks(PickedTracks picked, DeliveryKind kind, long? stick, [FromServices] StickLists stickLists)
    {
        var (tracks, part) = picked.In(library, parts);
        if (kind != DeliveryKind.Stick)
            return New(kind, null, tracks);
        if (tracks.Count > 0)
            stickLists.AddPart(stick ?? 0, null, part ?? LibraryPart.OfTracks(tracks));
        return ToStick(stick);
    }

    /// <summary>Plans what a set goes out as, in its order.</summary>
    public IActionResult OnPostSet(long set, DeliveryKind kind, long? stick, [FromServices] StickLists stickLists)
    {
        if (kind == DeliveryKind.Stick)
        {
            stickLists.AddSet(stick ?? 0, set);
            return ToStick(stick);
        }

        return sets.View(set) is { } view
            ? New(
                kind, view.Set.Title,
                [.. view.Lines.Select(line => line.Track).Where(track => !track.IsGone).Select(track => track.TrackId)])
            : NotFound();
    }

    /// <summary>Remembers a stick.</summary>
    public IActionResult OnPostStick(string? place, string? title, string? device)
    {
        var (id, problem) = sticks.Add(place, title, device ?? "");
        Message = problem;
        return ToStick(id);
    }

    /// <summary>Sends the files of picked tracks as they are, numbered in their order, with a playlist.</summary>
    public Task<IActionResult> OnPostDownloadAsync(PickedTracks picked) => DownloadAsync(null, picked.In(library, parts).Tracks);

    /// <summary>The same for a set.</summary>
    public async Task<IActionResult> OnPostDownloadSetAsync(long set) =>
        sets.View(set) is { } view
            ? await DownloadAsync(view.Set.Title, [.. view.Lines.Where(line => !line.Track.IsMissing).Select(line => line.Track.TrackId)])
            : NotFound();

    public IActionResult OnPostThrowAway(string? key)
    {
        bay.ThrowAway(key ?? "");
        return RedirectToPage();
    }

    private RedirectResult ToStick(long? id) =>
        Redirect(
            id is { } known && store.Get(known) is { Kind: DeliveryKind.Stick } row ? DeliveryWords.Address(row.Kind, row.Id) : "/deliver");

    private async Task<IActionResult> DownloadAsync(string? title, IReadOnlyList<long> tracks)
    {
        var files = library.TracksById(tracks).Where(track => !track.Master.IsMissing && allowed.MayRead(track.Master.Path)).ToList();
        if (files.Count == 0)
        {
            Message = "None of these tracks has a file that is there.";
            return RedirectToPage();
        }

        title ??= files.Select(track => track.AlbumTitle).Distinct().ToList() is [{ Length: > 0 } album] ? album : $"{files.Count} tracks";
        await ZipDownload.SendAsync(HttpContext, title, ZipFilesOf(title, files));
        return new EmptyResult();
    }

    private static IEnumerable<ZipFile> ZipFilesOf(string title, List<TrackRow> tracks)
    {
        var entries = tracks.Select((track, i) => new PlaylistEntry(
            SafeFileName.From(
                $"{(i + 1).ToString(tracks.Count > 99 ? "000" : "00", CultureInfo.InvariantCulture)} "
                    + $"{(track.Artist.Length > 0 ? track.Artist + " - " : "")}{track.Title}",
                Path.GetExtension(track.Master.Path)),
            track.Title, track.Artist, track.Master.Facts.Duration)).ToList();
        return
        [
            .. tracks.Zip(entries).Select(pair => new ZipFile(pair.Second.Path, () => PlainFile.OpenRead(pair.First.Master.Path))),
            new ZipFile(
                SafeFileName.From(title, PlaylistFormat.M3u8.Extension),
                () => new MemoryStream(Encoding.UTF8.GetBytes(PlaylistFormat.M3u8.Write(new Playlist(title, entries))))),
        ];
    }

    private IActionResult New(DeliveryKind kind, string? title, IReadOnlyList<long> tracks)
    {
        if (library.TracksById(tracks).Count > 0)
            return Redirect(DeliveryWords.Address(kind, kind switch
            {
                DeliveryKind.Data => dataDiscs.Create(title, tracks),
                DeliveryKind.Joined => joined.Create(title, tracks),
                DeliveryKind.Zip => zips.Create(title, tracks),
                _ => discs.Create(title, tracks),
            }));
        Message = "No track was picked that is still in the library.";
        return RedirectToPage();
    }
}
