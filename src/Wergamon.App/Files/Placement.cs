using System.Data;
using System.IO.Hashing;
using Dapper;
using Microsoft.Extensions.Logging;
using Wergamon.App.Storage;
using Wergamon.Core.Naming;

namespace Wergamon.App.Files;

/// <summary>A file that is being made, still under its temporary name.</summary>
/// <param name="ChangeId">Its line in the journal.</param>
public sealed record NewFile(long ChangeId, string TemporaryPath);

/// <summary>The only code that names, moves, replaces or removes files of the person.</summary>
/// <remarks>
/// <para>
/// Two promises hold whenever the process is killed, between any two instructions: no unfinished file has a final name, and no file
/// is lost. A rename within a file system is atomic, and a change of the database is, but the two together are not. So each change
/// of a file is first written to a journal, the table <c>file_change</c>, then carried out, and then its line is removed together
/// with, or after, the record that depends on it. After a crash the lines that are left say what to finish or undo.
/// </para>
/// <para>There are three kinds of lines.</para>
/// <list type="bullet">
/// <item>
/// <c>new</c>: a file is being made under a hidden temporary name (<see cref="Begin"/>). It becomes final by one rename
/// (<see cref="Publish"/>, <see cref="Replace"/>), before which the line learns the final name; the line goes when the result is recorded
/// (<see cref="Settle"/>). A handler that is recovered asks <see cref="FindOf"/>: a temporary file is published now, a published one
/// only recorded. <see cref="ClearUp()"/> removes the temporary files that nobody asked for.
/// </item>
/// <item>
/// <c>move</c>: a file goes to another file system (<see cref="Move"/>). It is copied under a temporary name, flushed, compared, named,
/// and only then removed at its old place. <see cref="FinishMoves"/> removes the original of a copy that has its final name and is
/// equal, and otherwise the unfinished copy.
/// </item>
/// <item>
/// <c>rename</c>: a file gets another name that the library has to know (<see cref="Rename"/>). The line names both. Whoever records the
/// new name removes the line in the same change (<see cref="Commit"/>); a rename that happened and was not recorded is found by
/// <see cref="RenameOf"/> and <see cref="UnrecordedRenames"/>.
/// </item>
/// </list>
/// <para>
/// A name is checked and taken under one lock, since runs, uploads and pages may want the same one. Recovery can run beside them: changes
/// that this process has begun are left alone. Files on a drive that is not connected wait for a later start.
/// </para>
/// </remarks>
public sealed class Placement(Database database, ILogger<Placement> logger)
{
    /// <summary>Temporary names start with this: hidden, so that players and scans skip them.</summary>
    public const string TemporaryPrefix = ".wergamon-";

    private const int CopyBytes = 1 << 20;
    private const long MaxCompanionBytes = 16 << 20;
    private const int MaxFolderAttempts = 5;

    /// <summary>Several callers may want one name; checking and taking it must be one step.</summary>
    private readonly Lock _naming = new();

    /// <summary>Changes that this process has begun: recovery, which may run at the same time, skips them.</summary>
    private readonly HashSet<long> _own = [];

    /// <summary>Reserves a temporary name in the target folder, which is created if needed.</summary>
    /// <param name="itemId">The item of a run that makes it; null for what is finished within the call.</param>
    /// <param name="folder">Where it is stored until it is published, on the same file system; null for the target folder.</param>
    public NewFile Begin(string wantedPath, long? itemId = null, string? folder = null)
    {
        folder ??= Path.GetDirectoryName(wantedPath)!;
        var temporary = Path.Combine(folder, $"{TemporaryPrefix}{Guid.NewGuid().ToString("N")[..12]}.part");
        long id = Record("new", null, temporary, null, itemId);
        PlainFolder.Create(folder);
        return new NewFile(id, temporary);
    }

    /// <summary>Publishes a finished file under the first free name: the wanted one, or with a number appended. Returns the path.</summary>
    /// <param name="free">Called with a name that is in use before another is tried; true when it has become free.</param>
    /// <param name="companion">The extension of a file that will be written beside it under the same name, which has to be free, too; null
    /// for none.</param>
    public string Publish(NewFile file, string wantedPath, Func<string, bool>? free = null, string? companion = null)
    {
        lock (_naming)
        {
            var path = FreeName(
                wantedPath, free, companion is null ? null : wanted => !PlainFile.IsTaken(Path.ChangeExtension(wanted, companion)));
            database.Change(
                connection =>
                    connection.Execute("UPDATE file_change SET final_path = @path WHERE id = @ChangeId", new { path, file.ChangeId }));
            MakeFolder(path);
            PlainFile.Move(file.TemporaryPath, path);
            return path;
        }
    }

    /// <summary>
    /// Gives a file that is complete and on the same file system the first free name; where a file with the same bytes has one
    /// of the names already, that one stays and the new one goes.
    /// </summary>
    public (string Path, bool WasThere) PublishUnlessThere(string complete, string wantedPath)
    {
        lock (_naming)
        {
            bool isThere = false;
            var path = FreeName(wantedPath, existing => isThere = PlainFile.Exists(existing) && AreEqual(existing, complete));
            if (isThere)
            {
                PlainFile.Delete(complete);
            }
            else
            {
                MakeFolder(path);
                PlainFile.Move(complete, path);
            }

            return (path, isThere);
        }
    }

    /// <summary>Replaces a file with its newer version in one step.</summary>
    public void Replace(NewFile file, string path)
    {
        lock (_naming)
        {
            database.Change(
                connection =>
                    connection.Execute("UPDATE file_change SET final_path = @path WHERE id = @ChangeId", new { path, file.ChangeId }));
            PlainFile.Move(file.TemporaryPath, path, overwrite: true);
        }
    }

    /// <summary>Writes bytes into a file that stays where it is, and flushes them.</summary>
    /// <param name="length">Length of the file afterwards.</param>
    public static void Patch(FileStream file, IEnumerable<Core.Tags.BytePatch> patches, long length)
    {
        foreach (var patch in patches)
        {
            file.Position = patch.Offset;
            file.Write(patch.Bytes.Span);
        }

        if (file.Length != length)
            file.SetLength(length);
        file.Flush(flushToDisk: true);
    }

    /// <summary>
    /// Writes a small file that belongs to another: a cue sheet, a report, a note. One of that name that was written here and is as it was
    /// written then is replaced; anything else there stays, and the new one gets a number. Returns the path.
    /// </summary>
    /// <param name="isNumbered">False to write nothing where the name is taken by another file.</param>
    public string WriteCompanion(string wantedPath, ReadOnlySpan<byte> bytes, bool isNumbered = true)
    {
        if (!isNumbered && PlainFile.IsTaken(wantedPath) && !IsOwnCompanion(wantedPath, hash: null))
            return wantedPath;
        var (content, hash) = (bytes.ToArray(), HashOf(bytes));
        var file = WriteTemporary(wantedPath, content);
        try
        {
            lock (_naming)
            {
                bool isOwn = false;
                var path = FreeName(wantedPath, existing => isOwn = IsOwnCompanion(existing, hash));
                database.Change(
                    connection =>
                        connection.Execute("INSERT OR IGNORE INTO companion (path, hash) VALUES (@path, @hash)", new { path, hash }));
                MakeFolder(path);
                PlainFile.Move(file.TemporaryPath, path, overwrite: isOwn);
                database.Change(
                    connection => connection.Execute("DELETE FROM companion WHERE path = @path AND hash <> @hash", new { path, hash }));
                return path;
            }
        }
        finally
        {
            Discard(file);
        }
    }

    /// <summary>Removes a companion that was written here, unless somebody has changed it since.</summary>
    public void RemoveCompanion(string path)
    {
        lock (_naming)
        {
            if (!IsOwnCompanion(path, hash: null))
                return;
            PlainFile.Delete(path);
            database.Change(connection => connection.Execute("DELETE FROM companion WHERE path = @path", new { path }));
        }
    }

    /// <summary>True for a file with just these bytes, or those that were written under this name before.</summary>
    private bool IsOwnCompanion(string path, string? hash)
    {
        if (PlainFile.Length(path) is not (> 0 and <= MaxCompanionBytes))
            return false;
        var there = HashOf(PlainFile.ReadAll(path, MaxCompanionBytes));
        if (there == hash)
            return true;
        using var connection = database.Open();
        return connection.ExecuteScalar<bool>(
            "SELECT EXISTS (SELECT 1 FROM companion WHERE path = @path AND hash = @there)", new { path, there });
    }

    private static string HashOf(ReadOnlySpan<byte> bytes) => System.Convert.ToHexStringLower(XxHash128.Hash(bytes));

    /// <summary>Removes a folder of the application with all that is in it.</summary>
    public static void RemoveOwnFolder(string path)
    {
        if (PlainFolder.Exists(path))
            PlainFolder.RemoveTree(path);
    }

    /// <summary>Removes a file whose proved newer version has another name.</summary>
    public static void Remove(string path) => PlainFile.Delete(path);

    /// <summary>Removes the journal entry of a file that is published and, if needed, recorded in the library.</summary>
    public void Settle(NewFile file) => Forget(file.ChangeId);

    /// <summary>Discards a new file.</summary>
    public void Discard(NewFile file)
    {
        if (TryDelete(file.TemporaryPath))
            Forget(file.ChangeId);
    }

    /// <summary>The final path in the journal; null before the file is published.</summary>
    public (NewFile File, string? FinalPath)? FindOf(long itemId)
    {
        using var connection = database.Open();
        var found = connection.QueryFirstOrDefault<(long Id, string Temporary, string? Final)>(
            "SELECT id, temporary_path, final_path FROM file_change WHERE item_id = @itemId AND kind = 'new' ORDER BY id DESC LIMIT 1",
            new { itemId });
        return found.Id == 0 ? null : (new NewFile(found.Id, found.Temporary), found.Final);
    }

    /// <summary>Writes a file of the application's own atomically, replacing an older one of the same name.</summary>
    public void WriteOwn(string path, ReadOnlySpan<byte> bytes)
    {
        var file = WriteTemporary(path, bytes.ToArray());
        try
        {
            lock (_naming)
                PlainFile.Move(file.TemporaryPath, path, overwrite: true);
        }
        finally
        {
            Discard(file);
        }
    }

    private NewFile WriteTemporary(string path, byte[] bytes)
    {
        var file = Begin(path);
        try
        {
            using var stream = PlainFile.Open(file.TemporaryPath, FileMode.CreateNew, FileAccess.Write);
            stream.Write(bytes);
            stream.Flush(flushToDisk: true);
            return file;
        }
        catch
        {
            Discard(file);
            throw;
        }
    }

    /// <summary>
    /// Moves a file to the first free name, over file systems too: there it is copied, flushed, compared, named, and only then removed
    /// here.
    /// </summary>
    /// <param name="isFree">Whether a name may be used if no file on the disk has it; null for always.</param>
    /// <param name="recordPlace">Called with the final name before the file gets it.</param>
    /// <returns>Where the file is now.</returns>
    /// <exception cref="IOException">It could not be moved, and is where it was.</exception>
    /// <exception cref="UnauthorizedAccessException">It could not be moved, and is where it was.</exception>
    public string Move(string from, string wantedPath, Func<string, bool>? isFree = null, Action<string>? recordPlace = null)
    {
        lock (_naming)
        {
            var to = FreeName(wantedPath, free: null, isFree);
            recordPlace?.Invoke(to);
            MakeFolder(to);
            if (FileNumber.IsSameDevice(from, Path.GetDirectoryName(to)!))
            {
                PlainFile.Move(from, to);
                return to;
            }

            var temporary = Path.Combine(Path.GetDirectoryName(to)!, $"{TemporaryPrefix}{Guid.NewGuid().ToString("N")[..12]}.part");
            long id = Record("move", from, temporary, to, itemId: null);
            try
            {
                CopyProved(from, temporary);
                PlainFile.Move(temporary, to);
            }
            catch
            {
                if (TryDelete(temporary))
                    Forget(id);
                throw;
            }

            try
            {
                PlainFile.Delete(from);
            }
            catch
            {
                // It stays where it was, and there only.
                if (TryDelete(to))
                    Forget(id);
                throw;
            }

            Forget(id);
            return to;
        }
    }

    /// <summary>
    /// Renames a file for an item of a run. The new name is written to the journal first and stays there until it is recorded
    /// (<see cref="Commit"/>).
    /// </summary>
    /// <inheritdoc cref="Move"/>
    public string Rename(
        long itemId, string from, string wantedPath, Func<string, bool> isFree)
        => Move(from, wantedPath, isFree, to => database.Change(connection =>
    {
        Commit(connection, itemId);
        connection.Execute(
            "INSERT INTO file_change (kind, source_path, final_path, item_id) VALUES ('rename', @from, @to, @itemId)",
            new { from, to, itemId });
    }));

    /// <summary>A rename of an item that has happened and is not recorded yet; null where there is none.</summary>
    public FileRename? RenameOf(long itemId) => Renames("item_id = @itemId", new { itemId }).FirstOrDefault();

    /// <summary>All renames that have happened and are not recorded yet, since the server ended in between.</summary>
    public IReadOnlyList<FileRename> UnrecordedRenames() => Renames("TRUE", new { });

    /// <summary>The rename of an item is recorded, within the same change.</summary>
    public static void Commit(IDbConnection connection, long itemId) =>
        connection.Execute("DELETE FROM file_change WHERE item_id = @itemId AND kind = 'rename'", new { itemId });

    private List<FileRename> Renames(string condition, object parameters)
    {
        using var connection = database.Open();
        return [
            .. connection.Query<FileRename>(
                $"SELECT source_path, final_path FROM file_change WHERE kind = 'rename' AND {condition} ORDER BY id", parameters)
            .Where(rename => PlainFile.Exists(rename.FinalPath) && !PlainFile.Exists(rename.SourcePath))];
    }

    /// <summary>After a crash: finishes moves whose copy has its final name, and undoes the others.</summary>
    public void FinishMoves() => Recover("move");

    /// <summary>After a crash: removes temporary files without an owner.</summary>
    public void ClearUp() => Recover("new");

    /// <summary>The same for one folder that has come back: nothing but what the journal says was written here goes.</summary>
    public void ClearUp(string folder) => Recover("new", folder);

    private void Recover(string kind, string folder = "/")
    {
        foreach (var change in LeftOver(kind).Where(change => change.TemporaryPath is not { } path || AllowedPaths.IsBelow(path, folder)))
        {
            try
            {
                // A drive that is not connected now is cleared up at a later start.
                if (change.TemporaryPath is { } left && !PlainFolder.Exists(Path.GetDirectoryName(left)!))
                    continue;
                if (kind == "move")
                    FinishMove(change);
                if (change.TemporaryPath is { } temporary && !TryDelete(temporary))
                    continue;
                Forget(change.Id);
            }
            catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
            {
                logger.LogWarning("A file is left for the next start: {Path}: {Reason}", change.TemporaryPath, failure.Message);
            }
        }
    }

    /// <summary>Whether two files hold the same bytes.</summary>
    public static bool AreEqual(string one, string other)
    {
        using var first = PlainFile.OpenRead(one);
        using var second = PlainFile.OpenRead(other);
        if (first.Length != second.Length)
            return false;
        var (left, right) = (new byte[CopyBytes], new byte[CopyBytes]);
        while (true)
        {
            int got = first.ReadAtLeast(left, left.Length, throwOnEndOfStream: false);
            second.ReadAtLeast(right, right.Length, throwOnEndOfStream: false);
            if (!left.AsSpan(0, got).SequenceEqual(right.AsSpan(0, got)))
                return false;
            if (got < left.Length)
                return true;
        }
    }

    /// <summary>Removes the folder that a file has left, and those above it, while they are empty and below another one.</summary>
    public static void RemoveEmptyFoldersAbove(string file, string top)
    {
        for (var folder = Path.GetDirectoryName(file); folder is not null && folder != top && AllowedPaths.IsBelow(folder, top);
        folder = Path.GetDirectoryName(folder))
            RemoveEmptyFolder(folder);
    }

    /// <summary>Removes a folder if it is empty.</summary>
    public static void RemoveEmptyFolder(string folder)
    {
        try
        {
            if (PlainFolder.Exists(folder) && PlainFolder.IsEmpty(folder))
                PlainFolder.Remove(folder);
        }
        catch (IOException)
        {
            // Something has come into it meanwhile.
        }
    }

    private void FinishMove(FileChange change)
    {
        if (change is not { SourcePath: { } from, FinalPath: { } to } || !PlainFile.Exists(from) || !PlainFile.Exists(to))
            return;
        if (AreEqual(from, to))
            PlainFile.Delete(from);
        else
            logger.LogWarning("{From} and {To} differ after a move that was cut off; both are kept", from, to);
    }

    private static string FreeName(string wantedPath, Func<string, bool>? free, Func<string, bool>? isFree = null)
    {
        var path = wantedPath;
        for (int number = 2; ; number++)
        {
            bool isTaken = PlainFile.IsTaken(path);
            if ((!isTaken || free?.Invoke(path) == true) && isFree?.Invoke(path) != false)
                return path;
            path = TrackPath.Numbered(wantedPath, number);
        }
    }

    private static void CopyProved(string from, string temporary)
    {
        using (var source = PlainFile.Open(from, FileMode.Open, FileAccess.Read, bufferSize: 0))
        using (var target = PlainFile.Open(temporary, FileMode.CreateNew, FileAccess.Write, bufferSize: 0))
        {
            source.CopyTo(target, CopyBytes);
            target.Flush(flushToDisk: true);
        }

        PlainFile.SetModified(temporary, PlainFile.ModifiedUtc(from));
        if (!AreEqual(from, temporary))
            throw new IOException($"{from} did not read back equal after it was copied.");
    }

    /// <summary>A folder that has become empty may be removed by somebody else this very moment; then it is made again.</summary>
    private static void MakeFolder(string path)
    {
        var folder = Path.GetDirectoryName(path)!;
        for (int attempt = 0; attempt < MaxFolderAttempts && !PlainFolder.Exists(folder); attempt++)
            PlainFolder.Create(folder);
    }

    private bool TryDelete(string path)
    {
        try
        {
            PlainFile.Delete(path);
            return true;
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            logger.LogWarning("A temporary file stays until the next start: {Path}: {Reason}", path, failure.Message);
            return false;
        }
    }

    private long Record(string kind, string? from, string temporary, string? to, long? itemId)
    {
        lock (_own)
        {
            long id = database.Change(connection => connection.ExecuteScalar<long>(
                "INSERT INTO file_change (kind, source_path, temporary_path, final_path, item_id) "
                    + "VALUES (@kind, @from, @temporary, @to, @itemId) RETURNING id",
                new { kind, from, temporary, to, itemId }));
            _own.Add(id);
            return id;
        }
    }

    private void Forget(long id)
    {
        database.Change(connection => connection.Execute("DELETE FROM file_change WHERE id = @id", new { id }));
        lock (_own)
            _own.Remove(id);
    }

    /// <summary>What an earlier process has left.</summary>
    private List<FileChange> LeftOver(string kind)
    {
        lock (_own)
        {
            using var connection = database.Open();
            return [
                .. connection.Query<FileChange>(
                    "SELECT id, source_path, temporary_path, final_path FROM file_change WHERE kind = @kind ORDER BY id",
                    new { kind }).Where(change => !_own.Contains(change.Id))
            ];
        }
    }

    private sealed record FileChange
    {
        public long Id { get; init; }

        public string? SourcePath { get; init; }

        public string? TemporaryPath { get; init; }

        public string? FinalPath { get; init; }
    }
}
