using System.Threading.Channels;
using Dapper;
using Microsoft.Extensions.Logging;
using Wergamon.App.Files;
using Wergamon.App.Library.Matching;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.App.Workers;

namespace Wergamon.App.Library.Scan;

/// <summary>
/// Brings the library up to date with a music folder: reads what is new or has changed, on all cores, recognises what has
/// moved and marks what is missing. Nothing that was known is lost.
/// </summary>
public sealed class FolderScan(
    Database database, FileScanner scanner, LibraryWriter writer, CopyHistory history, TrackMatcher matcher, TrackLines lines,
    TimeProvider time, ILogger<FolderScan> logger)
{
    /// <summary>Files are written to the database in groups, so that the library fills during the scan.</summary>
    private const int GroupSize = 128;

    /// <param name="changed">Called whenever something was added to the library.</param>
    internal async Task RunAsync(long folderId, string root, Action changed, CancellationToken cancellation)
    {
        var known = ReadKnown(folderId, root);
        var present = new Dictionary<string, FileStamp>();
        var files = PlainFolder.Files(root, isDeep: true).Where(FileScanner.LooksLikeSound).Order(StringComparer.Ordinal).ToList();
        foreach (var file in files)
            present[file] = FileStamp.Of(file);

        var moved = RecordMoves(folderId, known.Copies, present);
        var unchanged = known.Copies.Where(copy => !copy.IsMissing && !moved.ContainsKey(copy.Id)).Select(copy => (copy.Path, copy.Stamp))
            .Concat(known.Unreadable.Select(file => (file.Path, file.Stamp)))
            .ToLookup(file => file.Path, file => file.Stamp);
        var toRead = files.Where(file => !unchanged[file].Any(stamp => stamp.Fits(present[file]))).ToList();
        await ReadAsync(folderId, toRead, changed, cancellation).ConfigureAwait(false);
        Finish(folderId, known, moved, present);
        if (toRead.Count > 0 || moved.Count > 0)
            logger.LogInformation("Folder {FolderId}: {Count} files read, {Moved} moved", folderId, toRead.Count, moved.Count);
    }

    private Known ReadKnown(long folderId, string root)
    {
        using var connection = database.Open();
        // Files that a run has put there are known too, though no scan has seen them yet.
        var copies = connection.Query<(long Id, string Path, long Bytes, long ModifiedAt, long Number, bool IsMissing)>(
            """
            SELECT id, path, file_bytes, modified_at, file_number, is_missing FROM copy
            WHERE folder_id = @folderId OR (folder_id IS NULL AND substr(path, 1, length(@below)) = @below)
            """,
            new { folderId, below = root.TrimEnd('/') + "/" });
        var unreadable = connection.Query<(string Path, long Bytes, long ModifiedAt, long Number)>(
            "SELECT path, file_bytes, modified_at, file_number FROM unreadable_file WHERE folder_id = @folderId", new { folderId });
        return new Known(
            [
                .. copies.Select(
                    copy => new KnownCopy(copy.Id, copy.Path, new FileStamp(copy.Bytes, copy.ModifiedAt, copy.Number), copy.IsMissing))
            ],
            [.. unreadable.Select(file => (file.Path, new FileStamp(file.Bytes, file.ModifiedAt, file.Number)))]);
    }

    /// <summary>
    /// Gives copies that have moved their new paths; they are read again afterwards, since names and folders count as facts.
    /// </summary>
    private Dictionary<long, string> RecordMoves(long folderId, List<KnownCopy> copies, Dictionary<string, FileStamp> present)
    {
        var candidates = copies.Select(copy => (copy.Id, copy.Path, copy.Stamp)).ToList();
        candidates.AddRange(MissingInOtherFolders(folderId, copies, present));
        var moves = FileMoves.Find(candidates, present);
        if (moves.Count == 0)
            return moves;
        database.Change(connection =>
        {
            // Two files may have exchanged names: all old paths are cleared before the new ones are set.
            foreach (long id in moves.Keys)
                connection.Execute("UPDATE copy SET path = '/moving/' || id WHERE id = @id", new { id });
            foreach (var (id, path) in moves)
            {
                connection.Execute(
                    "UPDATE copy SET path = @path, folder_id = @folderId, file_number = @Number WHERE id = @id",
                    new { id, path, folderId, present[path].Number });
                history.Note(connection, id, $"moved from {candidates.First(copy => copy.Id == id).Path}");
            }
        });
        return moves;
    }

    /// <summary>Copies of other folders whose files are missing and whose stamps are found here under unknown paths.</summary>
    private List<(long Id, string Path, FileStamp Stamp)> MissingInOtherFolders(
        long folderId, List<KnownCopy> copies, Dictionary<string, FileStamp> present)
    {
        var here = copies.Select(copy => copy.Path).ToHashSet();
        var stamps = present.Where(file => !here.Contains(file.Key)).Select(file => file.Value.SizeAndTime).Distinct().ToList();
        var gone = new List<(long, string, FileStamp)>();
        using var connection = database.Open();
        foreach (var (bytes, modifiedAt) in stamps)
        {
            var found = connection.Query<(long Id, string Path, long Number)>(
                "SELECT id, path, file_number FROM copy WHERE file_bytes = @bytes AND modified_at = @modifiedAt "
                    + "AND folder_id IS NOT NULL AND folder_id <> @folderId",
                new { bytes, modifiedAt, folderId });
            gone.AddRange(
                found.Where(copy => !PlainFile.Exists(copy.Path))
                    .Select(copy => (copy.Id, copy.Path, new FileStamp(bytes, modifiedAt, copy.Number))));
        }

        return gone;
    }

    private async Task ReadAsync(long folderId, List<string> files, Action changed, CancellationToken cancellation)
    {
        if (files.Count == 0)
            return;
        var read = Channel.CreateBounded<ScannedFile>(2 * GroupSize);
        var reading = Task.Run(() => ReadAllAsync(files, read.Writer, cancellation), CancellationToken.None);
        using var keeper = lines.KeepUp();
        var group = new List<ScannedFile>(GroupSize);
        while (await read.Reader.WaitToReadAsync(cancellation).ConfigureAwait(false))
        {
            while (group.Count < GroupSize && read.Reader.TryRead(out var file))
                group.Add(file);
            Save(folderId, group);
            matcher.Refresh();
            lines.Refresh();
            group.Clear();
            changed();
        }

        await reading.ConfigureAwait(false);
    }

    /// <summary>Reads all files. Those that need a decoder wait for it separately, so that no other file waits for them.</summary>
    private async Task ReadAllAsync(List<string> files, ChannelWriter<ScannedFile> read, CancellationToken cancellation)
    {
        var toDecode = Channel.CreateUnbounded<ScannedFile>();
        // Writing takes longer than reading, and pages need to be answered in the meantime.
        var ownReading = new ParallelOptions
        {
            MaxDegreeOfParallelism = Math.Max(1, Environment.ProcessorCount - 1),
            CancellationToken = cancellation
        };
        var decoding = new ParallelOptions { MaxDegreeOfParallelism = WorkerPool.ScanPlaces, CancellationToken = cancellation };
        try
        {
            var decoded = Parallel.ForEachAsync(toDecode.Reader.ReadAllAsync(cancellation), decoding, async (file, token) =>
                await read.WriteAsync(await scanner.AskDecoderAsync(file, token).ConfigureAwait(false), token).ConfigureAwait(false));
            try
            {
                await Parallel.ForEachAsync(files, ownReading, async (file, token) =>
                {
                    var scanned = await scanner.ReadAsync(file, token).ConfigureAwait(false);
                    await (scanned.NeedsDecoder ? toDecode.Writer : read).WriteAsync(scanned, token).ConfigureAwait(false);
                }).ConfigureAwait(false);
            }
            finally
            {
                toDecode.Writer.Complete();
            }

            await decoded.ConfigureAwait(false);
            read.Complete();
        }
        catch (Exception failure)
        {
            read.Complete(failure);
        }
    }

    /// <summary>Records files that were read. A file that was renamed or deleted in the meantime is left to the next scan.</summary>
    internal void Save(long folderId, List<ScannedFile> files) => IsolatedBatch.Change(
        database,
        logger,
        files,
        (connection, group) =>
        {
            // A run renames a file before it records that: a path that still exists inside this transaction is recorded nowhere else.
            foreach (var file in group.Where(file => !FileScanner.IsNamedInText(file.Path) || PlainFile.IsTaken(file.Path)))
            {
                if (file.Unreadable is null)
                    writer.SaveScanned(connection, folderId, file);
                else
                    LibraryWriter.SaveUnreadable(connection, folderId, file);
            }
        },
        (connection, file, failure) =>
            LibraryWriter.SaveUnreadable(connection, folderId, file with { Unreadable = IsolatedBatch.NotExamined(failure) }));

    /// <summary>Files that no longer exist are kept as missing; albums without tracks after a change of tags are removed.</summary>
    private void Finish(
        long folderId, Known known, Dictionary<long, string> moved, Dictionary<string, FileStamp> present) => database.Change(connection =>
    {
        foreach (var copy in known.Copies.Where(copy => !copy.IsMissing && !moved.ContainsKey(copy.Id) && !present.ContainsKey(copy.Path)))
        {
            // A file moved to the trash since the scan began is not missing.
            if (connection.Execute("UPDATE copy SET is_missing = 1 WHERE id = @Id AND path = @Path", new { copy.Id, copy.Path }) > 0)
                history.Note(connection, copy.Id, "file found missing");
        }

        // Records from before file numbers were kept get them now.
        foreach (var copy in known.Copies.Where(
            copy => !copy.Stamp.HasNumber && present.TryGetValue(copy.Path, out var stamp) && stamp.HasNumber))
            connection.Execute(
                "UPDATE copy SET file_number = @Number WHERE id = @Id AND file_number = 0", new { present[copy.Path].Number, copy.Id });
        foreach (var (path, _) in known.Unreadable.Where(file => !present.ContainsKey(file.Path)))
            connection.Execute("DELETE FROM unreadable_file WHERE path = @path", new { path });
        TrackMerge.RemoveEmptyAlbums(connection);
        connection.Execute(
            "UPDATE folder SET scanned_at = @now WHERE id = @folderId", new { folderId, now = time.GetUtcNow().ToUnixTimeMilliseconds() });
    });

    private sealed record KnownCopy(long Id, string Path, FileStamp Stamp, bool IsMissing);

    private sealed record Known(List<KnownCopy> Copies, List<(string Path, FileStamp Stamp)> Unreadable);
}
