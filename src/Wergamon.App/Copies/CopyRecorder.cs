using System.Data;
using System.Text.Json;
using Dapper;
using Wergamon.App.Library.Listening;
using Wergamon.App.Library.Scan;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;

namespace Wergamon.App.Copies;

/// <summary>Records a proved copy that has its name: in the library with its lineage, or only with its item.</summary>
public sealed class CopyRecorder(
    Database database, FileScanner scanner, LibraryWriter writer, RunStore runs, BackgroundAnalysis analysis, TimeProvider time)
{
    /// <summary>What became of a copy: its number in the library if it has one, or why it could not be added.</summary>
    public sealed record Recorded(long? CopyId, string? Problem = null);

    /// <summary>Stores the path of a copy that the library does not list.</summary>
    public Recorded RecordUnlisted(RunItemRow item, string path, CopyCheckpoint checkpoint)
    {
        // Known from now on, whether the end of the item is recorded or not.
        runs.SetCheckpoint(
            item.Id, JsonSerializer.Serialize(checkpoint with { PublishedPath = path }, CopiesJson.Default.CopyCheckpoint));
        return new Recorded(null);
    }

    /// <summary>Adds a copy to the library.</summary>
    public async Task<Recorded> RecordAsync(RunItemRow item, CopySpec spec, string path, CopyCheckpoint checkpoint, DiscOrigin? origin)
    {
        // The file has its name: a run that is stopped now still records it, or it would be made a second time.
        var scanned = await scanner.ScanAsync(path, CancellationToken.None).ConfigureAwait(false);
        if (scanned.Facts is null)
            return new Recorded(null, scanned.Unreadable);

        // The length counted while proving is more reliable than the header of a lossy file.
        scanned = scanned with { Facts = scanned.Facts with { FrameCount = checkpoint.Proof.FramesOut } };
        long copyId = database.Change(connection =>
        {
            long trackId = TrackOf(connection, spec, origin) ?? writer.InsertTrack(connection, scanned);
            long id = writer.InsertCopy(connection, trackId, folderId: null, scanned, spec.Fidelity, spec.Generation);
            InsertLineage(connection, id, item, spec, origin);
            if (checkpoint.Analysis is { } found)
                AnalysisRows.Save(connection, id, found, failure: null);
            else if (checkpoint.KnownDigest is { } digest && spec.SourceCopyId is { } source)
                AnalysisRows.TakeOver(connection, id, source, digest);
            return id;
        });
        analysis.Wake();
        return new Recorded(copyId);
    }

    /// <summary>The copy that an item has added before; zero and null when it has not.</summary>
    public (long Id, string Path) Find(long itemId)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<(long Id, string Path)>(
            "SELECT c.id, c.path FROM lineage l JOIN copy c ON c.id = l.copy_id WHERE l.run_item_id = @itemId", new { itemId });
    }

    private void InsertLineage(IDbConnection connection, long id, RunItemRow item, CopySpec spec, DiscOrigin? origin) =>
        connection.Execute(
            """
            INSERT OR REPLACE INTO lineage (copy_id, from_copy_id, target_name, steps, made_at, disc_id, disc_track, reading, run_item_id)
            VALUES (@id, (SELECT id FROM copy WHERE id = @SourceCopyId), @target, @Steps, @now, @discId, @discTrack, @reading, @itemId)
            """,
            new
            {
                id,
                spec.SourceCopyId,
                target = spec.Target.Name,
                spec.Steps,
                now = time.GetUtcNow().ToUnixTimeMilliseconds(),
                discId = origin?.DiscId,
                discTrack = origin?.DiscTrack,
                reading = origin?.Reading,
                itemId = item.Id,
            });

    /// <summary>
    /// The track of the source, which may have changed since planning. Of copies of the same track of a disc, the first makes the track.
    /// </summary>
    private static long? TrackOf(IDbConnection connection, CopySpec spec, DiscOrigin? origin)
    {
        if (spec.IsNewTrack)
            return null;
        if (spec.SourceCopyId is not null)
            return connection.QueryFirstOrDefault<long?>(
                "SELECT track_id FROM copy WHERE id = @SourceCopyId UNION ALL SELECT id FROM track WHERE id = @TrackId LIMIT 1",
                new { spec.SourceCopyId, spec.TrackId });
        if (origin is null)
            return null;
        return connection.QueryFirstOrDefault<long?>(
            """
            SELECT c.track_id FROM lineage l JOIN copy c ON c.id = l.copy_id
            WHERE l.disc_id = @DiscId AND l.disc_track = @DiscTrack LIMIT 1
            """,
            new { origin.DiscId, origin.DiscTrack });
    }
}
