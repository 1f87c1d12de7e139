using System.Text;
using Wergamon.App.Copies;
using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Reading;
using Wergamon.Core.Naming;
using Wergamon.Devices.Catalogue;

namespace Wergamon.App.Intake;

/// <summary>The rips whose reports are to be written.</summary>
public sealed record RipReportSpec(IReadOnlyList<long>? RunIds);

/// <summary>
/// Writes what is known of a disc beside its copies, the cue sheet of a whole disc, and empties the spool. Names that were mended
/// while a copy was being made are carried into it afterwards.
/// </summary>
public sealed class RipReportHandler(
    RunStore runs, RipStore rips, DiscStore discs, DiscRenames renames, Spool spool, DriveBay bay, Placement placement,
    IReadingLedger ledger, TimeProvider time)
    : ItemHandler<RipReportSpec>(ItemKind)
{
    public static readonly ItemKind<RipReportSpec> ItemKind = new("rip-report", IntakeJson.Default.RipReportSpec);

    /// <summary>File name extension of reports.</summary>
    public const string ReportEnding = ", reading.txt";

    protected override Task<ItemOutcome> ExecuteAsync(
        RunItemRow item, RipReportSpec spec, ItemContext context, CancellationToken cancellation)
    {
        foreach (var rip in (spec?.RunIds ?? [item.RunId]).Select(rips.Get).OfType<RipRow>())
            Finish(rip);
        // Names that were mended while a copy was under way have not reached it.
        if (rips.Get(item.RunId) is { } own)
            renames.Follow(own.DiscId);
        return Task.FromResult(ItemOutcome.Done(null));
    }

    protected override ItemDescription Describe(RunItemRow item, RipReportSpec spec) => new("Writing the report", "Written");

    private void Finish(RipRow rip)
    {
        var items = runs.Items(rip.RunId);
        var made = items.Select(CopyResult.Of).OfType<CopyResult>().ToList();
        if (!rips.Tracks(rip.RunId).Any(track => track.Surround is not null))
            WriteReports(rip, made);
        foreach (var whole in items.Where(item => RipCopyHandler.ItemKind.Is(item) && CopySpec.Of(item).DiscTrack == RipStore.WholeDisc)
            .Select(CopyResult.Of)
            .OfType<CopyResult>())
            WriteCue(rip, whole.Path);
        // What failed can be tried again only from the audio that was read.
        if (items.All(item => ItemKind.Is(item) || item.State is ItemState.Done or ItemState.Skipped))
            spool.Clear(rip.RunId);
    }

    private void WriteReports(RipRow rip, IReadOnlyList<CopyResult> made)
    {
        var disc = discs.Get(rip.DiscId)!;
        var (album, contents) = (disc.ReadAlbum(), disc.ReadContents());
        var settings = rip.ReadSettings();
        var others = ledger.Find(contents).Select(entry => new OtherReadings(entry.Number, entry.Crc32, entry.Readings)).ToList();
        var traits = bay.Tray(rip.Drive)?.Traits ?? new DriveTraits(rip.Drive);
        var text = ReadingReport.Write(
            album, contents, traits, settings.Reading, ReadingsOf(rip), others, settings.Pauses == Pauses.WithTrackBefore,
            time.GetUtcNow().ToLocalTime());
        var name = SafeFileName.From(
            (album.Title.Length > 0 ? album.Title : $"Disc {disc.ChecksumId}") + (album.DiscTotal > 1 ? $", disc {album.Disc}" : ""),
            ReportEnding);
        foreach (var folder in made.Select(copy => Path.GetDirectoryName(copy.Path)!).Distinct().Where(PlainFolder.Exists))
            placement.WriteCompanion(Path.Combine(folder, name), Encoding.UTF8.GetBytes(text));
    }

    /// <summary>
    /// The newest reading of each track, of all rips of the disc into this folder: ripping one track again keeps what is known of the
    /// others.
    /// </summary>
    private List<TrackReading> ReadingsOf(RipRow rip)
    {
        var folder = runs.Get(rip.RunId)!.OutputFolder;
        var newest = new SortedDictionary<int, TrackReading>();
        foreach (var each in rips.Of(rip.DiscId)
            .Where(
                each => each.RunId <= rip.RunId && runs.Get(each.RunId)?.OutputFolder == folder
                    && each.ReadSettings().Pauses == rip.ReadSettings().Pauses))
        {
            foreach (var reading in rips.Tracks(each.RunId).Select(track => track.Reading).OfType<TrackReading>())
                newest[reading.Number] = reading;
        }

        return [.. newest.Values];
    }

    private void WriteCue(RipRow rip, string audioPath)
    {
        var disc = discs.Get(rip.DiscId)!;
        placement.WriteCompanion(
            Path.ChangeExtension(audioPath, ".cue"),
            CueSheetWriter.WriteBytes(CueSheetOf(disc.ReadAlbum(), disc.ReadContents(), Path.GetFileName(audioPath))));
    }

    /// <summary>The sheet for one file that holds all sound of a disc.</summary>
    private static CueSheet CueSheetOf(DiscAlbum album, TableOfContents contents, string fileName)
    {
        int first = TrackSpan.Of(contents, Pauses.WithTrackBefore)[0].FirstSector;
        string? Given(string text) => text.Length == 0 ? null : text;
        return new CueSheet
        {
            CatalogueNumber = contents.CatalogueNumber,
            Title = Given(album.Title),
            Performer = Given(album.Artist),
            Remarks = [
                $"DISCID {DiscId.Checksum(contents)}", .. album.Year is { } year ? [$"DATE {year}"] : Array.Empty<string>(),
                .. album.Genre.Length > 0 ? [$"GENRE \"{album.Genre}\""] : Array.Empty<string>()
            ],
            // The kind stands for any file of sound (common practice, no source).
            Files = [new CueFile(fileName, "WAVE")],
            Tracks =
            [
                .. contents.AudioTracks.Select(track => new CueTrack(track.Number, CueTrack.Audio)
                {
                    Title = Given(album.Tracks.FirstOrDefault(title => title.Number == track.Number)?.Title ?? ""),
                    Performer = album.Tracks.FirstOrDefault(title => title.Number == track.Number)?.Artist ?? Given(album.Artist),
                    Isrc = track.Isrc,
                    Indexes =
                    [
                        .. track.PauseStart < track.Start
                            ? [new CueIndex(0, 0, new Msf(Math.Max(0, track.PauseStart - first)))]
                            : Array.Empty<CueIndex>(),
                        new CueIndex(1, 0, new Msf(track.Start - first)),
                        .. track.MoreIndexes.Select((sector, i) => new CueIndex(i + 2, 0, new Msf(sector - first))),
                    ],
                }),
            ],
        };
    }
}
