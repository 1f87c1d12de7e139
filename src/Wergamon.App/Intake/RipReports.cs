using System.Text;
using Wergamon.App.Copies;
using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Reading;
using Wergamon.Core.Naming;
using Wergamon.Devices.Catalogue;

namespace Wergamon.App.Intake;

/// <summary>Writes beside the copies of a disc how it was read, and its cue sheet.</summary>
public sealed class RipReports(
    RunStore runs, RipStore rips, DiscStore discs, DriveBay bay, IReadingLedger ledger, Placement placement, TimeProvider time)
{
    /// <summary>File name extension of reports.</summary>
    public const string ReportEnding = ", reading.txt";

    /// <summary>Writes a report into each folder that holds copies.</summary>
    public void Write(RipRow rip, IReadOnlyList<CopyResult> made)
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

    /// <summary>Writes the cue sheet of a disc that was ripped to one file.</summary>
    public void WriteCueSheet(RipRow rip, string audioPath)
    {
        var disc = discs.Get(rip.DiscId)!;
        placement.WriteCompanion(
            Path.ChangeExtension(audioPath, ".cue"),
            CueSheetWriter.WriteBytes(WholeDiscCueSheet.For(disc.ReadAlbum(), disc.ReadContents(), Path.GetFileName(audioPath))));
    }
}
