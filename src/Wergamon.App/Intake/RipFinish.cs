using System.Text;
using Microsoft.Extensions.Logging;
using Wergamon.App.Runs;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Reading;
using Wergamon.Core.Names;
using Wergamon.Devices.Catalogue;

namespace Wergamon.App.Intake;

/// <summary>What is done when all copies of a disc are made: the report beside them, the cue sheet of a whole disc, and the spool emptied.</summary>
public sealed class RipFinish(RunStore runs, RipStore rips, Spool spool, DriveBay bay, IReadingLedger ledger, TimeProvider time, ILogger<RipFinish> logger)
{
    /// <summary>How the names of reports end.</summary>
    public const string ReportEnding = ", reading.txt";

    public void OnEnded(long runId)
    {
        // While a run goes on, its sound is still wanted.
        if (runs.Get(runId) is not { Kind: RunKind.Rip, State: RunState.Done } run)
            return;
        try
        {
            var items = runs.Items(runId);
            WriteReports(run, items);
            foreach (var whole in items.Where(item => item is { DiscTrack: RipStore.WholeDisc, State: ItemState.Done, FinalPath: not null }))
                WriteCue(runId, whole.FinalPath!);
            // What failed can be tried again only from the sound that was read.
            if (run.Failed == 0)
                spool.Clear(runId);
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            logger.LogWarning(failure, "Run {RunId}: the report could not be written", runId);
        }
    }

    private void WriteReports(RunRow run, IReadOnlyList<RunItemRow> items)
    {
        var disc = rips.DiscOf(run.Id);
        var (album, contents) = (disc.ReadAlbum(), disc.ReadContents());
        var settings = rips.SettingsOf(run.Id);
        if (rips.Tracks(run.Id).Any(track => track.Surround is not null))
            return;
        var readings = rips.Tracks(run.Id).Select(track => track.ReadReading()).OfType<TrackReading>().ToList();
        var others = ledger.Find(contents).Select(entry => new OtherReadings(entry.Number, entry.Crc32, entry.Readings)).ToList();
        var traits = bay.Tray(run.Drive)?.Traits ?? new DriveTraits(run.Drive ?? "");
        var text = ReadingReport.Write(
            album, contents, traits, settings.Reading, readings, others, settings.Pauses == Pauses.WithTrackBefore, time.GetUtcNow().ToLocalTime());
        var name = SafeFileName.From((album.Title.Length > 0 ? album.Title : $"Disc {disc.ChecksumId}") + (album.DiscTotal > 1 ? $", disc {album.Disc}" : ""), ReportEnding);
        foreach (var folder in items.Where(item => item is { State: ItemState.Done, FinalPath: not null }).Select(item => Path.GetDirectoryName(item.FinalPath)!).Distinct().Where(Directory.Exists))
            WriteWhole(Path.Combine(folder, name), Encoding.UTF8.GetBytes(text));
    }

    private void WriteCue(long runId, string soundPath)
    {
        var disc = rips.DiscOf(runId);
        var sheet = CueSheetOf(disc.ReadAlbum(), disc.ReadContents(), Path.GetFileName(soundPath));
        WriteWhole(Path.ChangeExtension(soundPath, ".cue"), CueSheetWriter.WriteBytes(sheet));
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
            Remarks = [$"DISCID {DiscId.Checksum(contents)}", .. album.Year is { } year ? [$"DATE {year}"] : Array.Empty<string>(), .. album.Genre.Length > 0 ? [$"GENRE \"{album.Genre}\""] : Array.Empty<string>()],
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
                        .. track.PauseStart < track.Start ? [new CueIndex(0, 0, new Msf(Math.Max(0, track.PauseStart - first)))] : Array.Empty<CueIndex>(),
                        new CueIndex(1, 0, new Msf(track.Start - first)),
                        .. track.MoreIndexes.Select((sector, i) => new CueIndex(i + 2, 0, new Msf(sector - first))),
                    ],
                }),
            ],
        };
    }

    /// <summary>A half file never has a final name; an older one of the same name gives way.</summary>
    private static void WriteWhole(string path, byte[] bytes)
    {
        var temporary = Path.Combine(Path.GetDirectoryName(path)!, $".wergamon-{Guid.NewGuid().ToString("N")[..8]}.part");
        File.WriteAllBytes(temporary, bytes);
        File.Move(temporary, path, overwrite: true);
    }
}
