using System.Globalization;
using System.Text;
using Wergamon.App.Files;
using Wergamon.App.Tracks;
using Wergamon.Core.Naming;
using Wergamon.Core.Playlists;
using Wergamon.Web.Endpoints;

namespace Wergamon.Web.Pages.Deliver.Front;

/// <summary>Sends the original files of tracks as one ZIP: numbered in their order, with a playlist.</summary>
public sealed class OriginalsDownload(LibraryQueries library, AllowedPaths allowed)
{
    /// <param name="title">Null to go by the album.</param>
    /// <returns>False when none of the tracks has a file; nothing was sent.</returns>
    public async Task<bool> SendAsync(HttpContext context, string? title, IReadOnlyList<long> tracks)
    {
        var files = library.TracksById(tracks).Where(track => !track.Master.IsMissing && allowed.MayRead(track.Master.Path)).ToList();
        if (files.Count == 0)
            return false;
        title ??= files.Select(track => track.AlbumTitle).Distinct().ToList() is [{ Length: > 0 } album] ? album : $"{files.Count} tracks";
        await ZipDownload.SendAsync(context, title, ZipFilesOf(title, files));
        return true;
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
}
