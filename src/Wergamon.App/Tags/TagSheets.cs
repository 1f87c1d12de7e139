using System.Data;
using System.IO.Hashing;
using System.Text;
using System.Text.Json;
using Dapper;
using Wergamon.App.Library.Scan;
using Wergamon.App.Storage;
using Wergamon.Core.Tags;

namespace Wergamon.App.Tags;

/// <summary>Files that are edited together.</summary>
public sealed record TagSheetRow
{
    public long Id { get; init; }

    public string Title { get; init; } = "";

    public int Files { get; init; }

    /// <summary>Changes that are not written yet.</summary>
    public int Edits { get; init; }
}

/// <summary>What kind of change an edit is; in the database by its name in lower case.</summary>
public enum EditKind
{
    /// <summary>A field gets other values.</summary>
    Field,

    /// <summary>The file gets other pictures.</summary>
    Pictures,

    /// <summary>The file gets another name.</summary>
    Name,
}

/// <summary>Sheets and the changes on them. No file is changed before a run writes them.</summary>
public sealed class TagSheets(Database database, TimeProvider time)
{
    /// <summary>More files are not edited at a time.</summary>
    public const int MaxFiles = 5_000;

    private const int SheetsKept = 20;

    /// <summary>Creates a sheet; one with the same files is reopened.</summary>
    public long Create(string title, IReadOnlyList<long> copyIds) => database.Change(connection =>
    {
        var ids = copyIds.Distinct().Take(MaxFiles).ToList();
        long? same = connection.QueryFirstOrDefault<long?>(
            """
            SELECT s.id FROM tag_sheet s WHERE (SELECT group_concat(copy_id) FROM (SELECT copy_id FROM tag_sheet_file WHERE sheet_id = s.id
                ORDER BY position)) = @list LIMIT 1
            """,
            new { list = string.Join(',', ids) });
        if (same is { } known)
        {
            connection.Execute(
                "UPDATE tag_sheet SET opened_at = @now, title = @title WHERE id = @known", new { known, title, now = Now() });
            return known;
        }

        long id = connection.ExecuteScalar<long>(
            "INSERT INTO tag_sheet (title, opened_at) VALUES (@title, @now) RETURNING id", new { title, now = Now() });
        connection.Execute(
            "INSERT INTO tag_sheet_file (sheet_id, position, copy_id) VALUES (@id, @position, @copyId)",
            ids.Select((copyId, position) => new { id, position, copyId }));
        // Old sheets without changes are removed automatically.
        connection.Execute(
            """
            DELETE FROM tag_sheet WHERE id NOT IN (SELECT id FROM tag_sheet ORDER BY opened_at DESC, id DESC LIMIT @SheetsKept)
                AND NOT EXISTS (SELECT 1 FROM tag_edit WHERE sheet_id = tag_sheet.id)
            """,
            new { SheetsKept });
        return id;
    });

    public TagSheetRow? Get(long id)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<TagSheetRow>(Select + " WHERE s.id = @id", new { id });
    }

    /// <summary>The latest first.</summary>
    public IReadOnlyList<TagSheetRow> Recent(int max)
    {
        using var connection = database.Open();
        return connection.Query<TagSheetRow>(Select + " ORDER BY s.opened_at DESC, s.id DESC LIMIT @max", new { max }).AsList();
    }

    /// <summary>The files in their order.</summary>
    public IReadOnlyList<SheetFile> Files(long id)
    {
        using var connection = database.Open();
        return connection.Query<SheetFile>(
            """
            SELECT c.id AS copy_id, c.track_id, t.album_id, c.path, c.codec_name, c.file_format, c.is_missing, c.frame_count, c.sample_rate
            FROM tag_sheet_file f JOIN copy c ON c.id = f.copy_id JOIN track t ON t.id = c.track_id WHERE f.sheet_id = @id
                AND NOT c.is_trashed ORDER BY f.position
            """,
            new { id }).AsList();
    }

    /// <summary>The tags that the files themselves hold.</summary>
    public IReadOnlyDictionary<long, TagSet> TagsOf(long id)
    {
        using var connection = database.Open();
        var found = new Dictionary<long, TagSet>();
        foreach (var (copyId, name, value) in connection.Query<(long CopyId, string Name, string Value)>(
            "SELECT g.copy_id, g.name, g.value FROM tag_sheet_file f JOIN tag g ON g.copy_id = f.copy_id WHERE f.sheet_id = @id "
                + "AND NOT g.from_name ORDER BY g.copy_id, g.position",
            new { id }))
        {
            if (!found.TryGetValue(copyId, out var tags))
                found[copyId] = tags = new TagSet();
            tags.Add(name, value);
        }

        return found;
    }

    /// <summary>
    /// A short text that changes when the pending changes or the known state of the files change.
    /// </summary>
    public string StateOf(long id)
    {
        using var connection = database.Open();
        var files = connection.Query<string>(
            """
            SELECT c.id || ' ' || c.path || ' ' || c.file_bytes || ' ' || c.modified_at || ' ' || c.file_number || ' ' 
                || e.kind || ' ' || e.field || ' ' || e.value
            FROM tag_edit e JOIN copy c ON c.id = e.copy_id WHERE e.sheet_id = @id AND NOT e.is_left_out ORDER BY c.id, e.kind, e.field
            """,
            new { id });
        return System.Convert.ToHexStringLower(XxHash128.Hash(Encoding.UTF8.GetBytes(string.Join('\n', files))));
    }

    /// <summary>The files with changes whose tags or sound are not completely readable.</summary>
    public IReadOnlySet<long> Damaged(long id)
    {
        using var connection = database.Open();
        return connection.Query<long>(
            """
            SELECT DISTINCT c.id FROM tag_edit e JOIN copy c ON c.id = e.copy_id
            WHERE e.sheet_id = @id AND NOT e.is_left_out AND c.damage IS NOT NULL
            """,
            new { id }).ToHashSet();
    }

    /// <summary>All changes that are not written yet.</summary>
    public IReadOnlyList<TagEditRow> Edits(long id)
    {
        using var connection = database.Open();
        return connection.Query<TagEditRow>(
            """
            SELECT e.copy_id, e.kind, e.field, e.value, e.is_left_out FROM tag_edit e JOIN tag_sheet_file f ON f.sheet_id = e.sheet_id
                AND f.copy_id = e.copy_id
            WHERE e.sheet_id = @id ORDER BY f.position, e.kind, e.field
            """,
            new { id }).AsList();
    }

    /// <summary>Sets new values of fields; values that the file already has are no change.</summary>
    public void SetFields(long id, IEnumerable<(long CopyId, string Field, IReadOnlyList<string> Values)> changes)
    {
        var tags = TagsOf(id);
        database.Change(connection =>
        {
            foreach (var (copyId, field, values) in changes)
            {
                var now = tags.TryGetValue(copyId, out var has) ? has[field] : [];
                if (now.SequenceEqual(values))
                    Remove(connection, id, copyId, EditKind.Field, field);
                else
                    Upsert(
                        connection, id, copyId, EditKind.Field, field,
                        JsonSerializer.Serialize(values, TagsJson.Default.IReadOnlyListString));
            }
        });
    }

    /// <summary>Chooses all pictures of files.</summary>
    public void SetPictures(
        long id, IReadOnlyList<(long CopyId, IReadOnlyList<PictureChoice> Pictures)> choices) => database.Change(connection =>
    {
        foreach (var (copyId, pictures) in choices)
        {
            connection.Execute(
                "INSERT OR IGNORE INTO tag_sheet_picture (sheet_id, hash) VALUES (@id, @Hash)",
                pictures.Select(picture => new { id, picture.Hash }));
            Upsert(
                connection, id, copyId, EditKind.Pictures, "",
                JsonSerializer.Serialize(pictures, TagsJson.Default.IReadOnlyListPictureChoice));
        }
    });

    /// <summary>Stores a picture for a sheet; returns its SHA-256.</summary>
    public string Store(long id, Picture picture) => database.Change(connection =>
    {
        var hash = LibraryWriter.SaveArtwork(connection, picture);
        connection.Execute("INSERT OR IGNORE INTO tag_sheet_picture (sheet_id, hash) VALUES (@id, @hash)", new { id, hash });
        return hash;
    });

    /// <summary>Renames files; the current name is no change.</summary>
    public void SetNames(long id, IReadOnlyList<(long CopyId, string Path)> names)
    {
        var paths = Files(id).ToDictionary(file => file.CopyId, file => file.Path);
        database.Change(connection =>
        {
            foreach (var (copyId, path) in names)
            {
                if (!paths.TryGetValue(copyId, out var now) || now == path)
                    Remove(connection, id, copyId, EditKind.Name, "");
                else
                    Upsert(connection, id, copyId, EditKind.Name, "", path);
            }
        });
    }

    public void LeaveOut(
        long id, long copyId, EditKind kind, string field, bool isLeftOut) => database.Change(connection => connection.Execute(
        "UPDATE tag_edit SET is_left_out = @isLeftOut WHERE sheet_id = @id AND copy_id = @copyId AND kind = @kind AND field = @field",
        new { id, copyId, kind = TextOf(kind), field, isLeftOut }));

    public void Discard(long id) =>
        database.Change(connection => connection.Execute("DELETE FROM tag_edit WHERE sheet_id = @id", new { id }));

    /// <summary>Forgets changes that are being written.</summary>
    internal static void Forget(IDbConnection connection, long id) =>
        connection.Execute("DELETE FROM tag_edit WHERE sheet_id = @id AND NOT is_left_out", new { id });

    private static void Upsert(
        IDbConnection connection, long id, long copyId, EditKind kind, string field, string value) => connection.Execute(
        """
        INSERT INTO tag_edit (sheet_id, copy_id, kind, field, value) SELECT sheet_id, copy_id, @kind, @field, @value FROM tag_sheet_file
            WHERE sheet_id = @id AND copy_id = @copyId
        ON CONFLICT (sheet_id, copy_id, kind, field) DO UPDATE SET value = excluded.value, is_left_out = 0
        """,
        new { id, copyId, kind = TextOf(kind), field, value });

    private static void Remove(IDbConnection connection, long id, long copyId, EditKind kind, string field) =>
        connection.Execute(
            "DELETE FROM tag_edit WHERE sheet_id = @id AND copy_id = @copyId AND kind = @kind AND field = @field",
            new { id, copyId, kind = TextOf(kind), field });

    private static string TextOf(EditKind kind) => kind switch { EditKind.Field => "field", EditKind.Pictures => "pictures", _ => "name" };

    private long Now() => time.GetUtcNow().ToUnixTimeMilliseconds();

    private const string Select =
        """
        SELECT s.id, s.title, (SELECT COUNT(*) FROM tag_sheet_file WHERE sheet_id = s.id) AS files, (SELECT COUNT(*) FROM tag_edit
            WHERE sheet_id = s.id) AS edits FROM tag_sheet s
        """;
}
