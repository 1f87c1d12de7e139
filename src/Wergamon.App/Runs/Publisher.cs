using System.Data;
using Dapper;
using Microsoft.Extensions.Logging;
using Wergamon.App.Data;
using Wergamon.App.Files;
using Wergamon.App.Library;
using Wergamon.Core.Names;
using Wergamon.Core.Planning;

namespace Wergamon.App.Runs;

/// <summary>
/// Gives a proved file its final name and puts it into the library. The name is written down before the file is moved, so
/// that after a crash between the two it is known where the file went.
/// </summary>
public sealed class Publisher(Database database, RunStore runs, FileScanner scanner, LibraryWriter writer, Trash trash, Surveys surveys, TimeProvider time, ILogger<Publisher> logger)
    : IDisposable
{
    /// <summary>Two items may aim at the same name; choosing it and taking it is one step.</summary>
    private readonly SemaphoreSlim _naming = new(1);

    public async Task PublishAsync(RunItemRow item, string outputFolder, CancellationToken cancellation)
    {
        if (item.TemporaryPath is { } temporary && File.Exists(temporary))
        {
            await _naming.WaitAsync(cancellation).ConfigureAwait(false);
            try
            {
                if (ChooseName(item, outputFolder) is not { } path)
                {
                    File.Delete(temporary);
                    runs.SetSkipped(item.Id, "The name was taken meanwhile; the file there was left as it is.");
                    return;
                }

                runs.SetFinalPath(item.Id, path);
                item = item with { FinalPath = path };
                File.Move(temporary, path);
            }
            finally
            {
                _naming.Release();
            }
        }

        if (item.FinalPath is null || !File.Exists(item.FinalPath))
        {
            runs.SetWaiting(item.Id);
            return;
        }

        long copyId = await RecordAsync(item, item.FinalPath, cancellation).ConfigureAwait(false);
        runs.SetDone(item.Id, copyId);
        surveys.Wake();
        logger.LogInformation("Run {RunId} item {ItemId}: proved and published", item.RunId, item.Id);
    }

    public void Dispose() => _naming.Dispose();

    /// <summary>The name the file gets, freed if need be; null when it is to be skipped.</summary>
    private string? ChooseName(RunItemRow item, string outputFolder)
    {
        var path = Path.Combine(outputFolder, item.RelativePath);
        if (!File.Exists(path))
            return path;
        var rule = Enum.Parse<IfTaken>(item.IfTaken);
        if (rule == IfTaken.Skip)
            return null;
        if (rule == IfTaken.Replace && !IsInMusicFolder(path))
        {
            var place = trash.TakeReplaced(path);
            logger.LogInformation("Run {RunId} item {ItemId}: the file that had the name lies in {Place}", item.RunId, item.Id, place);
            return path;
        }

        int number = 2;
        while (File.Exists(TrackPath.Numbered(path, number)))
            number++;
        return TrackPath.Numbered(path, number);
    }

    /// <summary>Files that came in by a music folder are sources: they are never replaced, both are kept.</summary>
    private bool IsInMusicFolder(string path)
    {
        using var connection = database.Open();
        return connection.ExecuteScalar<bool>("SELECT EXISTS (SELECT 1 FROM copy WHERE path = @path AND folder_id IS NOT NULL)", new { path });
    }

    private async Task<long> RecordAsync(RunItemRow item, string path, CancellationToken cancellation)
    {
        var scanned = await scanner.ScanAsync(new FileInfo(path), cancellation).ConfigureAwait(false);
        if (scanned.Facts is null)
            throw new IOException($"The new file could not be read into the library: {scanned.Unreadable}");

        // What was counted while proving is truer than what a lossy file's header says.
        if (item.ReadProof() is { } proof)
            scanned = scanned with { Facts = scanned.Facts with { FrameCount = proof.FramesOut } };
        long copyId = 0;
        database.Change(connection =>
        {
            var origin = OriginOf(connection, item);
            copyId = writer.InsertCopy(connection, item.TrackId ?? TrackOf(connection, origin, scanned), folderId: null, scanned, item.Fidelity, item.Generation);
            connection.Execute(
                """
                INSERT OR REPLACE INTO lineage (copy_id, from_copy_id, target_name, steps, made_at, disc_id, disc_track, reading)
                VALUES (@copyId, @SourceCopyId, @TargetName, @Steps, @now, @DiscId, @DiscTrack, @Reading)
                """,
                new { copyId, item.SourceCopyId, origin.TargetName, item.Steps, now = time.GetUtcNow().ToUnixTimeMilliseconds(), origin.DiscId, item.DiscTrack, origin.Reading });
        });
        return copyId;
    }

    /// <summary>For which target a copy was made, and from which disc.</summary>
    private static Origin OriginOf(IDbConnection connection, RunItemRow item)
    {
        var (targetName, discId) = connection.QuerySingle<(string TargetName, long? DiscId)>("SELECT target_name, disc_id FROM run WHERE id = @RunId", new { item.RunId });
        if (discId is null)
            return new Origin(targetName, null, null, null);
        var reading = connection.QueryFirstOrDefault<string>("SELECT reading FROM rip_track WHERE run_id = @RunId AND number = @DiscTrack", new { item.RunId, item.DiscTrack });
        return new Origin(item.ReadTarget()?.Name ?? targetName, discId, item.DiscTrack, reading);
    }

    /// <summary>The track that copies from the same place of the same disc belong to; the first of them makes it.</summary>
    private long TrackOf(IDbConnection connection, Origin origin, ScannedFile scanned) =>
        connection.QueryFirstOrDefault<long?>(
            "SELECT c.track_id FROM lineage l JOIN copy c ON c.id = l.copy_id WHERE l.disc_id = @DiscId AND l.disc_track = @DiscTrack LIMIT 1", new { origin.DiscId, origin.DiscTrack })
        ?? writer.InsertTrack(connection, scanned);

    private sealed record Origin(string TargetName, long? DiscId, int? DiscTrack, string? Reading);
}
