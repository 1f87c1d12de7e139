using System.Data;
using Dapper;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.Core.Tags;

namespace Wergamon.App.Intake;

/// <summary>A copy from a disc that will get the names and pictures that the disc has when the item runs.</summary>
public sealed record RenameSpec(long CopyId, long DiscId, int DiscTrack);

/// <summary>Applies corrected names and pictures of a disc to the copies made from it, as a run.</summary>
public sealed class DiscRenames(Database database, RunStore runs, RipStore rips, DiscStore discs)
{
    public static readonly RunKind RunKind = new("rename", Station.Intake, "Writing names", "renamed");

    internal static readonly string[] FieldsOfDisc =
    [
        FieldNames.Title, FieldNames.Artist, FieldNames.AlbumArtist, FieldNames.Album, FieldNames.Track, FieldNames.TrackTotal,
        FieldNames.Disc, FieldNames.DiscTotal,
        FieldNames.Year, FieldNames.Genre, FieldNames.Isrc, FieldNames.Compilation, "barcode",
    ];

    /// <summary>Starts a run for the copies of a disc whose names or pictures differ from the disc's.</summary>
    public void Follow(long discId)
    {
        rips.Retitle(discId);
        var disc = discs.Get(discId)!;
        var pictures = discs.Pictures(discId).Select(picture => picture.Hash).ToList();
        database.Change(connection =>
        {
            var stale = CopiesOf(connection, discId).Where(copy => IsStale(connection, copy, disc, pictures)).ToList();
            if (stale.Count > 0)
                Insert(connection, disc, stale);
        });
    }

    private void Insert(IDbConnection connection, DiscRow disc, List<DiscCopy> stale)
    {
        long runId = runs.Insert(connection, new NewRun(RunKind, RipJobs.TitleOf(disc), "new names", stale[0].OutputFolder));
        var items = new List<long>();
        foreach (var copy in stale)
        {
            var spec = new RenameSpec(copy.Id, disc.Id, copy.DiscTrack);
            var title = RipJobs.TagsOf(disc, copy.DiscTrack).First(FieldNames.Title) ?? $"Track {copy.DiscTrack}";
            items.Add(
                RunStore.InsertItem(
                    connection, runId, items.Count,
                    RenameHandler.ItemKind.New(Lane.Files, title, copy.DurationMs, spec) with { CopyIds = [copy.Id] }));
        }

        var report = new RipReportSpec([.. stale.Select(copy => copy.RipRunId).OfType<long>().Distinct()]);
        long reportId = RunStore.InsertItem(
            connection, runId, items.Count, RipReportHandler.ItemKind.New(Lane.Files, "Report", 0, report) with { IsResult = false });
        foreach (long item in items)
            RunStore.InsertWait(connection, reportId, item, WaitReason.End);
    }

    /// <summary>Copies made from a disc that exist and are not waiting for new names yet.</summary>
    private static List<DiscCopy> CopiesOf(IDbConnection connection, long discId) => connection.Query<DiscCopy>(
        """
        SELECT c.id, l.disc_track, r.id AS rip_run_id, COALESCE(r.output_folder, '') AS output_folder,
            c.frame_count * 1000 / MAX(1, c.sample_rate) AS duration_ms
        FROM lineage l JOIN copy c ON c.id = l.copy_id LEFT JOIN run_item i ON i.id = l.run_item_id LEFT JOIN run r ON r.id = i.run_id
        WHERE l.disc_id = @discId AND NOT c.is_trashed AND NOT c.is_missing
            AND NOT EXISTS (SELECT 1 FROM run_item_copy u JOIN run_item n ON n.id = u.item_id WHERE u.copy_id = c.id AND n.kind = @kind
                AND n.state = 'waiting')
        ORDER BY l.disc_track, c.id
        """,
        new { discId, kind = RenameHandler.ItemKind.Name }).AsList();

    private static bool IsStale(IDbConnection connection, DiscCopy copy, DiscRow disc, List<string> pictures)
    {
        var (wanted, has) = (RipJobs.TagsOf(disc, copy.DiscTrack), LibraryQueries.ReadTags(connection, copy.Id, ofFileAlone: true));
        if (!FieldsOfDisc.All(name => has[name].SequenceEqual(wanted[name])))
            return true;
        return pictures.Count > 0
            && !connection.Query<string>("SELECT hash FROM copy_artwork WHERE copy_id = @Id ORDER BY position", new { copy.Id })
                .SequenceEqual(pictures);
    }

    private sealed record DiscCopy
    {
        public long Id { get; init; }

        public int DiscTrack { get; init; }

        public long? RipRunId { get; init; }

        public string OutputFolder { get; init; } = "";

        public long DurationMs { get; init; }
    }
}
