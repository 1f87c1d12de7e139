using System.Data;
using System.Text.Json;
using Dapper;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.Core.Planning;
using Wergamon.Core.Sticks;
using Wergamon.Core.Sync;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>The desired contents of sticks and what was written to them, in the database.</summary>
public sealed class StickStore(Database database)
{
    private const string FileColumns = "key, path, sound, tags, bytes, modified_at, sent, held";

    public IReadOnlyList<StickListRow> Lists(long stickId)
    {
        using var connection = database.Open();
        return connection.Query<StickListRow>(
            "SELECT id, title, list_id, part FROM stick_list WHERE delivery_id = @stickId ORDER BY position, id", new { stickId }).AsList();
    }

    /// <summary>The sets that sticks follow, by the numbers of the lists.</summary>
    internal IReadOnlyList<(long StickId, string Stick, long ListId, long SetId)> SetLists() => database.Read(
        "sets on sticks",
        connection => connection.Query<(long, string, long, long)>(
            "SELECT d.id, d.title, s.id, s.list_id FROM stick_list s JOIN delivery d ON d.id = s.delivery_id WHERE s.list_id IS NOT NULL "
                + "ORDER BY d.title COLLATE NOCASE, d.id").AsList());

    /// <summary>The keys of the files that were written to a stick.</summary>
    internal IReadOnlySet<SyncKey> Keys(long stickId)
    {
        using var connection = database.Open();
        return connection.Query<string>("SELECT key FROM stick_file WHERE delivery_id = @stickId", new { stickId })
            .Select(SyncKey.Parse).ToHashSet();
    }

    /// <summary>How many files were written to each stick.</summary>
    public IReadOnlyDictionary<long, int> CountFiles() => database.Read("files on sticks", connection => connection
        .Query<(long Stick, int Files)>("SELECT delivery_id, COUNT(*) FROM stick_file GROUP BY delivery_id")
            .ToDictionary(row => row.Stick, row => row.Files));

    /// <summary>Appends a list; one that is there already is not added again.</summary>
    /// <param name="listId">Of a set; null for a part of the library.</param>
    public void AddList(long stickId, string title, long? listId, LibraryPart? part) => database.Change(connection => connection.Execute(
        """
        INSERT INTO stick_list (delivery_id, position, title, list_id, part)
        SELECT id, (SELECT COALESCE(MAX(position), 0) + 1 FROM stick_list WHERE delivery_id = @stickId), @title, @listId, @part
            FROM delivery WHERE id = @stickId
            AND NOT EXISTS (SELECT 1 FROM stick_list WHERE delivery_id = @stickId AND list_id IS @listId AND part IS @part)
        """,
        new { stickId, title, listId, part = part?.ToJson() }));

    /// <summary>Reorders the lists, or removes some.</summary>
    /// <param name="arrange">Receives the numbers of the lists in order and returns those to keep.</param>
    public void ArrangeLists(long stickId, Func<IReadOnlyList<long>, IReadOnlyList<long>> arrange) => database.Change(connection =>
    {
        var before = connection.Query<long>("SELECT id FROM stick_list WHERE delivery_id = @stickId ORDER BY position, id", new { stickId })
            .AsList();
        var after = arrange(before);
        connection.Execute("DELETE FROM stick_list WHERE id = @gone", before.Except(after).Select(gone => new { gone }));
        connection.Execute(
            "UPDATE stick_list SET position = @position WHERE id = @list", after.Select((list, position) => new { list, position }));
    });

    /// <summary>Sets the tracks of a list, which no longer follows the library.</summary>
    public void FixList(long listId, IReadOnlyList<long> trackIds) => database.Change(connection => connection.Execute(
        "UPDATE stick_list SET list_id = NULL, part = @part WHERE id = @listId",
        new { listId, part = LibraryPart.OfTracks(trackIds).ToJson() }));

    public void SetListTitle(long listId, string title) =>
        database.Change(
            connection =>
                connection.Execute("UPDATE stick_list SET title = @title WHERE id = @listId AND title <> @title", new { listId, title }));

    public IReadOnlySet<long> Skipped(long stickId)
    {
        using var connection = database.Open();
        return connection.Query<long>("SELECT track_id FROM stick_skip WHERE delivery_id = @stickId", new { stickId }).ToHashSet();
    }

    /// <summary>Excludes a track from a stick, whatever lists have it.</summary>
    public void Skip(long stickId, long trackId) => database.Change(connection => connection.Execute(
        "INSERT OR IGNORE INTO stick_skip (delivery_id, track_id) SELECT @stickId, id FROM track WHERE id = @trackId",
        new { stickId, trackId }));

    /// <summary>No track stays off a stick any longer.</summary>
    public void ClearExclusions(long stickId) =>
        database.Change(connection => connection.Execute("DELETE FROM stick_skip WHERE delivery_id = @stickId", new { stickId }));

    /// <summary>What was written to a stick, by key. Of interrupted changes, those that have taken place count.</summary>
    /// <param name="stampOf">Of the file at a path of the stick; null where there is none, or the stick is not there.</param>
    /// <returns>The files, and the keys of those changes: <see cref="Commit"/> records them permanently.</returns>
    internal (Dictionary<SyncKey, StickFile> Files, IReadOnlyList<SyncKey> TookPlace) Files(
        long stickId, Func<string, SyncStamp?> stampOf)
    {
        using var connection = database.Open();
        var files = connection.Query<FileRow>($"SELECT {FileColumns}, turn FROM stick_file WHERE delivery_id = @stickId", new { stickId })
            .Select(row => row.File)
            .ToDictionary(file => file.File.Key);
        long turn = files.Values.Select(file => file.File.Turn).DefaultIfEmpty().Max();
        var tookPlace = connection.Query<FileRow>(
                $"SELECT {FileColumns}, 0 AS turn FROM stick_intent WHERE delivery_id = @stickId", new { stickId })
            .Where(intent => stampOf(intent.Path) == intent.Stamp)
            .Select(intent => (intent with { Turn = ++turn }).File)
            .ToList();
        foreach (var file in tookPlace)
            files[file.File.Key] = file;
        return (files, [.. tookPlace.Select(file => file.File.Key)]);
    }

    /// <summary>One of them; null when it was never written.</summary>
    internal StickFile? File(long stickId, SyncKey key, Func<string, SyncStamp?> stampOf)
    {
        using (var connection = database.Open())
        {
            if (connection.QueryFirstOrDefault<FileRow>(
                    $"SELECT {FileColumns}, 0 AS turn FROM stick_intent WHERE delivery_id = @stickId AND key = @key",
                    new { stickId, key = key.ToString() }) is not { } intent
                || stampOf(intent.Path) != intent.Stamp)
                return connection.QueryFirstOrDefault<FileRow>(
                    $"SELECT {FileColumns}, turn FROM stick_file WHERE delivery_id = @stickId AND key = @key",
                    new { stickId, key = key.ToString() })?.File;
        }

        Commit(stickId, key);
        return File(stickId, key, stampOf);
    }

    /// <summary>
    /// Records what is about to happen to a file; once it has, <see cref="Commit"/> confirms it, here or after a restart.
    /// </summary>
    internal void Prepare(long stickId, StickFile file) => database.Change(connection => connection.Execute(
        "INSERT OR REPLACE INTO stick_intent (delivery_id, key, path, sound, tags, bytes, modified_at, sent, held) "
            + "SELECT id, @Key, @Path, @Sound, @Tags, @Bytes, @ModifiedAt, @Sent, @Held FROM delivery WHERE id = @stickId",
        RowOf(stickId, file)));

    internal void Commit(long stickId, SyncKey file) => database.Change(connection =>
    {
        var key = file.ToString();
        connection.Execute(
            """
            INSERT OR REPLACE INTO stick_file (delivery_id, key, path, sound, tags, bytes, modified_at, sent, held, turn)
            SELECT delivery_id, key, path, sound, tags, bytes, modified_at, sent, held, (SELECT COALESCE(MAX(turn), 0) + 1 FROM stick_file
                WHERE delivery_id = @stickId)
            FROM stick_intent WHERE delivery_id = @stickId AND key = @key
            """,
            new { stickId, key });
        connection.Execute("DELETE FROM stick_intent WHERE delivery_id = @stickId AND key = @key", new { stickId, key });
    });

    /// <summary>Changes the records of files that were neither moved nor written.</summary>
    internal void Update(long stickId, IEnumerable<StickFile> files) => database.Change(connection => connection.Execute(
        """
        UPDATE stick_file SET sound = @Sound, tags = @Tags, bytes = @Bytes, modified_at = @ModifiedAt, sent = @Sent, held = @Held
        WHERE delivery_id = @stickId AND key = @Key
        """,
        files.Select(file => RowOf(stickId, file)).ToList()));

    /// <summary>A file that was not written from here counts as if it had been.</summary>
    internal void Adopt(long stickId, StickFile file)
    {
        Prepare(stickId, file);
        Commit(stickId, file.File.Key);
    }

    /// <summary>Records a file written from here that is to be removed once another has replaced it.</summary>
    internal void NoteStray(long stickId, string path, SyncStamp stamp) => database.Change(connection => connection.Execute(
        "INSERT OR REPLACE INTO stick_stray (delivery_id, path, bytes, modified_at) SELECT id, @path, @Bytes, @ModifiedAt FROM delivery "
            + "WHERE id = @stickId",
        new { stickId, path, stamp.Bytes, stamp.ModifiedAt }));

    internal void ForgetStray(long stickId, string path) =>
        database.Change(
            connection =>
                connection.Execute("DELETE FROM stick_stray WHERE delivery_id = @stickId AND path = @path", new { stickId, path }));

    internal IReadOnlyList<(string Path, SyncStamp Stamp)> Strays(long stickId)
    {
        using var connection = database.Open();
        return [
            .. connection.Query<(string Path, long Bytes, long ModifiedAt)>(
                    "SELECT path, bytes, modified_at FROM stick_stray WHERE delivery_id = @stickId", new { stickId })
                .Select(row => (row.Path, new SyncStamp(row.Bytes, row.ModifiedAt)))
        ];
    }

    internal void NoteImport(long stickId, StickImport import) => database.Change(connection => connection.Execute(
        "INSERT OR REPLACE INTO stick_import (delivery_id, path, copy_path, bytes, modified_at) "
            + "SELECT id, @Path, @CopyPath, @Bytes, @ModifiedAt FROM delivery WHERE id = @stickId",
        new { stickId, import.Path, import.CopyPath, import.Stamp.Bytes, import.Stamp.ModifiedAt }));

    internal IReadOnlyList<StickImport> Imports(long stickId)
    {
        using var connection = database.Open();
        return [
            .. connection.Query<(string Path, string CopyPath, long Bytes, long ModifiedAt)>(
                "SELECT path, copy_path, bytes, modified_at FROM stick_import WHERE delivery_id = @stickId", new { stickId })
            .Select(row => new StickImport(row.Path, row.CopyPath, new SyncStamp(row.Bytes, row.ModifiedAt)))];
    }

    internal void Forget(long stickId, SyncKey key) => database.Change(connection => connection.Execute(
        "DELETE FROM stick_file WHERE delivery_id = @stickId AND key = @key; DELETE FROM stick_intent WHERE delivery_id = @stickId "
            + "AND key = @key",
        new { stickId, key = key.ToString() }));

    private static object RowOf(long stickId, StickFile file) => new
    {
        stickId,
        Key = file.File.Key.ToString(),
        file.File.Path,
        Sound = Write(file.File.Sound),
        file.File.Tags,
        file.File.Stamp.Bytes,
        file.File.Stamp.ModifiedAt,
        Sent = Write(file.Sent),
        Held = Write(file.Held),
    };

    /// <summary>The text that is kept for a sound; empty for none.</summary>
    internal static string Write(SourceSound? sound) =>
        sound is null ? "" : JsonSerializer.Serialize(sound, StickRunsJson.Default.SourceSound);

    /// <summary>Reads what <see cref="Write(SourceSound?)"/> gives. Anything else is the digest of a playlist, as older libraries have it.
    /// </summary>
    internal static SourceSound? ReadSound(string text) => text switch
    {
        "" => null,
        ['{', ..] => JsonSerializer.Deserialize(text, StickRunsJson.Default.SourceSound),
        _ => SourceSound.OfText(text),
    };

    private static string Write(StickNotes notes) => JsonSerializer.Serialize(notes, StickRunsJson.Default.StickNotes);

    private sealed record FileRow
    {
        public string Key { get; init; } = "";

        public string Path { get; init; } = "";

        public string Sound { get; init; } = "";

        public string Tags { get; init; } = "";

        public long Bytes { get; init; }

        public long ModifiedAt { get; init; }

        public long Turn { get; init; }

        public string Sent { get; init; } = "";

        public string Held { get; init; } = "";

        public SyncStamp Stamp => new(Bytes, ModifiedAt);

        public StickFile File =>
            new(new WrittenFile(SyncKey.Parse(Key), Path, ReadSound(Sound), Tags, Stamp, Turn), Read(Sent), Read(Held));

        private static StickNotes Read(string json) =>
            json.Length > 2 ? JsonSerializer.Deserialize(json, StickRunsJson.Default.StickNotes) ?? StickNotes.None : StickNotes.None;
    }
}
