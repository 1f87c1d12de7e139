using System.Globalization;
using System.Text;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Deliver;
using Wergamon.App.Files;
using Wergamon.App.Library;
using Wergamon.App.Sets;
using Wergamon.Core.Naming;
using Wergamon.Core.Playlists;
using Wergamon.Devices.Drives;
using Wergamon.Web.Display;
using Wergamon.Web.Endpoints;

namespace Wergamon.Web.Pages.Deliver;

/// <summary>What is to go out, and the discs that were burned.</summary>
public sealed class IndexModel(DeliveryStore store, AudioDiscs discs, DataDiscs dataDiscs, JoinedFiles joined, BurnerBay bay, LibraryQueries library, LibraryParts parts, MusicSets sets, AllowedPaths allowed) : PageModel
{
    public IReadOnlyList<DeliveryRow> Deliveries { get; private set; } = [];

    public IReadOnlyList<RackDisc> Burned => bay.Written();

    [TempData]
    public string? Message { get; set; }

    public void OnGet() => Deliveries = store.List();

    /// <summary>Plans what picked tracks go out as.</summary>
    public IActionResult OnPostTracks(PickedTracks picked, DeliveryKind kind) => New(kind, null, picked.In(library, parts).Tracks);

    /// <summary>Plans what a set goes out as, in its order.</summary>
    public IActionResult OnPostSet(long set, DeliveryKind kind) =>
        sets.View(set) is { } view ? New(kind, view.Set.Title, [.. view.Lines.Select(line => line.Track).Where(track => !track.IsGone).Select(track => track.TrackId)]) : NotFound();

    /// <summary>Sends the files of picked tracks as they are, numbered in their order, with a playlist.</summary>
    public Task<IActionResult> OnPostDownloadAsync(PickedTracks picked) => DownloadAsync(null, picked.In(library, parts).Tracks);

    /// <summary>The same for a set.</summary>
    public async Task<IActionResult> OnPostDownloadSetAsync(long set) =>
        sets.View(set) is { } view ? await DownloadAsync(view.Set.Title, [.. view.Lines.Where(line => !line.Track.IsMissing).Select(line => line.Track.TrackId)]) : NotFound();

    public IActionResult OnPostThrowAway(string? key)
    {
        bay.ThrowAway(key ?? "");
        return RedirectToPage();
    }

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
            SafeFileName.From($"{(i + 1).ToString(tracks.Count > 99 ? "000" : "00", CultureInfo.InvariantCulture)} {(track.Artist.Length > 0 ? track.Artist + " - " : "")}{track.Title}", Path.GetExtension(track.Master.Path)),
            track.Title, track.Artist, track.Master.Facts.Duration)).ToList();
        return
        [
            .. tracks.Zip(entries).Select(pair => new ZipFile(pair.Second.Path, () => System.IO.File.OpenRead(pair.First.Master.Path))),
            new ZipFile(SafeFileName.From(title, PlaylistFormat.M3u8.Extension), () => new MemoryStream(Encoding.UTF8.GetBytes(PlaylistFormat.M3u8.Write(new Playlist(title, entries))))),
        ];
    }

    private IActionResult New(DeliveryKind kind, string? title, IReadOnlyList<long> tracks)
    {
        if (library.TracksById(tracks).Count > 0)
            return Redirect(DeliveryWords.Address(kind, kind switch
            {
                DeliveryKind.Data => dataDiscs.Create(title, tracks),
                DeliveryKind.Joined => joined.Create(title, tracks),
                _ => discs.Create(title, tracks),
            }));
        Message = "No track was picked that is still in the library.";
        return RedirectToPage();
    }
}
