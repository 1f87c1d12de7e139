using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Library.Matching;
using Wergamon.App.Library.Scan;
using Wergamon.App.Tracks;
using Wergamon.Core.Naming;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages.Library;

public sealed class IndexModel(LibraryQueries library, TrackMatcher matcher, DemoMusic demo, TimeProvider time) : PageModel
{
    /// <summary>Albums per request; the next ones follow when the last is scrolled to.</summary>
    public const int AlbumsAtOnce = 100;

    /// <summary>Where in the list of all albums these start.</summary>
    public int Offset { get; private set; }

    public IReadOnlyList<AlbumRow> Albums { get; private set; } = [];

    public AlbumRow? Album { get; private set; }

    public IReadOnlyList<TrackRow> Tracks { get; private set; } = [];

    public TrackDetail? Facts { get; private set; }

    public bool OffersDemo => demo is { IsOffered: true, IsIn: false };

    /// <summary>"2021, Dance band. 3:08, 21.3 MB. Added today"</summary>
    public string Summary
    {
        get
        {
            var what = string.Join(", ", new[] { Album!.Year, Album.Genre }.Where(part => !string.IsNullOrEmpty(part)));
            var length = Labels.Time(Tracks.Aggregate(TimeSpan.Zero, (sum, track) => sum + track.Master.Facts.Duration));
            var size = Labels.Size(Tracks.Sum(track => track.Master.FileBytes));
            return $"{(what.Length > 0 ? what + ". " : "")}{length}, {size}. Added {Labels.Day(Album.AddedAt, time.GetUtcNow())}";
        }
    }

    /// <summary>Gaps and duplicates in the track numbers.</summary>
    public IReadOnlyList<string> Oddities { get; private set; } = [];

    public IActionResult OnGet(long? album, long? track)
    {
        if (!Load(album))
            return NotFound();
        if (track is { } trackId)
            Facts = TrackDetail.Read(library, matcher, trackId);
        return Page();
    }

    public IActionResult OnGetAlbums(long? album)
    {
        Load(album);
        return Partial("_AlbumList", this);
    }

    /// <summary>Albums from one place of the list on.</summary>
    public PartialViewResult OnGetMore(long? album, int offset)
    {
        Offset = Math.Max(0, offset);
        Albums = library.Albums(Offset, AlbumsAtOnce);
        Album = album is { } id ? library.Album(id) : null;
        return Partial("_AlbumCards", this);
    }

    public IActionResult OnGetFacts(long track) =>
        TrackDetail.Read(library, matcher, track) is { } detail ? Partial("_Facts", detail) : NotFound();

    /// <summary>A copy becomes a track of its own.</summary>
    public IActionResult OnPostSeparate(long copy) => ToTrackOf(copy, matcher.Separate(copy));

    /// <summary>Joins copies that were separated.</summary>
    public IActionResult OnPostTogether(long copy, long with) => ToTrackOf(copy, matcher.Rejoin(copy, with));

    private IActionResult ToTrackOf(long copy, long? track) =>
        (track ?? library.Copy(copy)?.TrackId) is { } id && library.TracksById([id]) is [var shown]
            ? Redirect($"/library?album={shown.AlbumId}&track={shown.Id}")
            : NotFound();

    /// <summary>Chooses the requested album, or the first; false when the requested one does not exist.</summary>
    private bool Load(long? album)
    {
        Albums = library.Albums(0, AlbumsAtOnce);
        Album = album is { } id ? library.Album(id) : Albums.Count > 0 ? Albums[0] : null;
        if (Album is not null)
        {
            Tracks = library.TracksOfAlbum(Album.Id);
            Oddities = AlbumNumbers.Oddities([.. Tracks.Select(track => (track.Disc, track.Number))], library.TrackTotals(Album.Id));
        }

        return album is null || Album is not null;
    }
}
