using System.Data;
using Dapper;
using Wergamon.App.Copies;
using Wergamon.App.Storage;

namespace Wergamon.App.Convert;

/// <summary>Mirrors and their files in the database.</summary>
public sealed class MirrorStore(Database database)
{
    private const string Select =
        "SELECT m.id, m.title, m.part, m.target, m.output_folder, m.run_id, (SELECT COUNT(*) FROM mirror_file "
            + "WHERE mirror_id = m.id) AS files FROM mirror m";

    public IReadOnlyList<MirrorRow> List() =>
        database.Read("mirrors", connection => connection.Query<MirrorRow>(Select + " ORDER BY m.title COLLATE NOCASE, m.id").AsList());

    public MirrorRow? Get(long id)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<MirrorRow>(Select + " WHERE m.id = @id", new { id });
    }

    /// <summary>The mirror is forgotten; its files stay.</summary>
    public void Remove(long id) => database.Change(connection => connection.Execute("DELETE FROM mirror WHERE id = @id", new { id }));

    internal static IEnumerable<MirrorEntry> Files(IDbConnection connection, long mirrorId) => connection.Query<FileRow>(
        "SELECT track_id, path, digest, source_bytes, source_modified_at, recipe, tags FROM mirror_file WHERE mirror_id = @mirrorId",
        new { mirrorId }).Select(row => row.Entry);

    internal MirrorEntry? File(long mirrorId, long trackId)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<FileRow>(
            "SELECT track_id, path, digest, source_bytes, source_modified_at, recipe, tags FROM mirror_file WHERE mirror_id = @mirrorId "
                + "AND track_id = @trackId",
            new { mirrorId, trackId })?.Entry;
    }

    /// <summary>Records a file that a mirror has made.</summary>
    internal void Save(long mirrorId, MirrorEntry entry) => database.Change(connection => Save(connection, mirrorId, entry));

    internal static void Save(IDbConnection connection, long mirrorId, MirrorEntry entry) => connection.Execute(
        """
        INSERT OR REPLACE INTO mirror_file (mirror_id, track_id, path, digest, source_bytes, source_modified_at, recipe, tags)
        SELECT id, @TrackId, @Path, @Digest, @SourceBytes, @SourceModifiedAt, @Recipe, @Tags FROM mirror WHERE id = @mirrorId
        """,
        new { mirrorId, entry.TrackId, entry.Path, entry.Digest, entry.SourceBytes, entry.SourceModifiedAt, entry.Recipe, entry.Tags });

    internal static void SetPath(IDbConnection connection, long mirrorId, long trackId, string path) => connection.Execute(
        "UPDATE mirror_file SET path = @path WHERE mirror_id = @mirrorId AND track_id = @trackId", new { mirrorId, trackId, path });

    internal void Forget(long mirrorId, long trackId, string path) =>
        database.Change(connection => Forget(connection, mirrorId, trackId, path));

    internal static void Forget(IDbConnection connection, long mirrorId, long trackId, string path) => connection.Execute(
        "DELETE FROM mirror_file WHERE mirror_id = @mirrorId AND track_id = @trackId AND path = @path", new { mirrorId, trackId, path });

    private sealed record FileRow
    {
        public long TrackId { get; init; }

        public string Path { get; init; } = "";

        public string? Digest { get; init; }

        public long SourceBytes { get; init; }

        public long SourceModifiedAt { get; init; }

        public string Recipe { get; init; } = "";

        public string Tags { get; init; } = "";

        public MirrorEntry Entry => new(TrackId, Path, Digest, SourceBytes, SourceModifiedAt, Recipe, Tags);
    }
}
