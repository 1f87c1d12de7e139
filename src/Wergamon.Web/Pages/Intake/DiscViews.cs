using Wergamon.App.Copies;
using Wergamon.App.Intake;
using Wergamon.App.Storage;
using Wergamon.Core.Discs;
using Wergamon.Devices.Catalogue;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages.Intake;

/// <summary>Builds the view of a drive.</summary>
public sealed class DiscViews(
    DriveBay bay, InsertedDiscs insertedDiscs, DiscStore discs, DiscRips rips, DiscRipViews ripViews, SurroundChoices surround,
    FolderCatalogue catalogue, AppOptions options)
{
    /// <param name="drive">Its letter; null for the first one that has a disc in it.</param>
    /// <param name="edit">True to edit the names.</param>
    /// <returns>Null for an unknown drive.</returns>
    public DiscView? Read(string? drive, bool edit)
    {
        if (bay.Tray(drive ?? bay.Trays.FirstOrDefault(tray => tray.Disc is not null)?.Letter ?? "A") is not { } tray)
            return null;
        var inserted = insertedDiscs.On(tray.Letter);
        var view = new DiscView
        {
            // The drive for images is shown only while an image is in it.
            Trays = [.. bay.Trays.Where(other => other.Letter != DriveBay.ImageLetter || other.Disc is not null)],
            Tray = tray,
            Inserted = inserted,
            Choice = rips.Choice,
            Targets = rips.Targets,
            Mood = catalogue.Mood,
            OutputFolder = rips.Choice.Settings.OutputFolder ?? options.Folders.Ripped,
        };
        return inserted is null || discs.Get(inserted.DiscId) is not { } disc
            ? view
            : WithDisc(view, inserted, disc) with { IsEditing = edit };
    }

    private DiscView WithDisc(DiscView view, InsertedDisc inserted, DiscRow disc)
    {
        var album = disc.ReadAlbum();
        var rip = ripViews.Of(inserted, view.Tray.Letter);
        var ripTracks = rip?.Tracks ?? [];
        var copies = rip?.Copies ?? [];
        var choice = inserted.IsSurround ? surround.Of(disc.Id) : null;
        var spans = inserted.Spans(Pauses.WithTrackBefore);
        return view with
        {
            Disc = disc,
            Album = album,
            Pictures = discs.Pictures(disc.Id),
            Rip = rip,
            Strip = new DiscStrip(spans, ripTracks, rip?.Now),
            Surround = choice,
            OutputFolder = choice is null ? view.OutputFolder : choice.OutputFolder ?? options.Folders.Ripped,
            Lines = [
                .. spans.Select(
                    span => LineOf(span, album, ripTracks.FirstOrDefault(track => track.Number == span.Number), isNew: rip is null, copies))
            ],
        };
    }

    private static DiscLine LineOf(
        TrackSpan span, DiscAlbum album, RipTrackRow? rip, bool isNew, IReadOnlyList<(CopySpec Spec, CopyResult Result)> copies) => new(
        span,
        album.Tracks.FirstOrDefault(title => title.Number == span.Number) ?? new DiscTitle(span.Number, ""),
        rip,
        isNew ? span.Number != TrackSpan.HiddenNumber : rip is not null,
        copies.Where(copy => copy.Spec.DiscTrack == span.Number).Select(copy => copy.Result.CopyId).FirstOrDefault());
}
