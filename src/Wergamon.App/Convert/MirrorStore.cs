using System.Data;
using System.IO.Hashing;
using System.Text;
using Dapper;
using Wergamon.App.Storage;
using Wergamon.Core.Planning;

namespace Wergamon.App.Convert;

/// <summary>Mirrors and their files in the database.</summary>
public sealed class MirrorStore(Database database)
{
    private const string Select =
        "SELECT m.id, m.title, m.part, m.target, m.output_folder, m.run_id, (SELECT COUNT(*) FROM mirror_file WHERE mirror_id = m.id) AS files FROM mirror m";

    public IReadOnlyList<MirrorRow> List() => database.Read("mirrors", connection => connection.Query<MirrorRow>(Select + " ORDER BY m.title COLLATE NOCASE, m.id").AsList());

    public MirrorRow? Get(long id)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<MirrorRow>(Select + " WHERE m.id = @id", new { id });
    }

    /// <summary>The mirror is forgotten; its files stay.</summary>
    public void Remove(long id) => database.Change(connection => connection.Execute("DELETE FROM mirror WHERE id = @id", new { id }));

    internal static Dictionary<long, MirrorEntry> Files(IDbConnection connection, long mirrorId) => connection.Query<FileRow>(
        "SELECT track_id, path, digest, source_bytes, source_modified_at, recipe, tags FROM mirror_file WHERE mirror_id = @mirrorId", new { mirrorId }).ToDictionary(row => row.TrackId, row => row.Entry);

    internal MirrorEntry? File(long mirrorId, long trackId)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<FileRow>(
            "SELECT track_id, path, digest, source_bytes, source_modified_at, recipe, tags FROM mirror_file WHERE mirror_id = @mirrorId AND track_id = @trackId", new { mirrorId, trackId })?.Entry;
    }

    /// <summary>Records a file that a mirror has made.</summary>
    internal void Save(long mirrorId, MirrorEntry entry) => database.Change(connection => Save(connection, mirrorId, entry));

    internal static void Save(IDbConnection connection, long mirrorId, MirrorEntry entry) => connection.Execute(
        """
        INSERT OR REPLACE INTO mirror_file (mirror_id, track_id, path, digest, source_bytes, source_modified_at, recipe, tags)
        SELECT id, @TrackId, @Path, @Digest, @SourceBytes, @SourceModifiedAt, @Recipe, @Tags FROM mirror WHERE id = @mirrorId
        """,
        new { mirrorId, entry.TrackId, entry.Path, entry.Digest, entry.SourceBytes, entry.SourceModifiedAt, entry.Recipe, entry.Tags });

    internal void SetPath(long mirrorId, long trackId, string path) => database.Change(connection => connection.Execute(
        "UPDATE mirror_file SET path = @path WHERE mirror_id = @mirrorId AND track_id = @trackId", new { mirrorId, trackId, path }));

    internal void Forget(long mirrorId, long trackId, string path) => database.Change(connection => connection.Execute(
        "DELETE FROM mirror_file WHERE mirror_id = @mirrorId AND track_id = @trackId AND path = @path", new { mirrorId, trackId, path }));

    /// <summary>Digests of the samples of copies, where they have been analysed as they are now.</summary>
    internal static Dictionary<long, string> Digests(IDbConnection connection, string copyIds) => connection.Query<(long CopyId, string Samples)>(
        "SELECT copy_id, samples FROM analysis WHERE copy_id IN (SELECT value FROM json_each(@copyIds)) AND failure IS NULL AND samples IS NOT NULL", new { copyIds })
        .ToDictionary(row => row.CopyId, row => row.Samples.Split(' ')[0]);

    /// <summary>One short text for all tags and pictures of each copy.</summary>
    internal static Dictionary<long, string> TagSums(IDbConnection connection, string copyIds)
    {
        var sums = new Dictionary<long, XxHash128>();
        Add("SELECT copy_id, name, value FROM tag WHERE copy_id IN (SELECT value FROM json_each(@copyIds)) ORDER BY copy_id, position");
        Add("SELECT copy_id, kind || ' ' || description, hash FROM copy_artwork WHERE copy_id IN (SELECT value FROM json_each(@copyIds)) ORDER BY copy_id, position");
        Add("SELECT copy_id, dialect || ' ' || name, CAST(bytes AS TEXT) FROM opaque_tag WHERE copy_id IN (SELECT value FROM json_each(@copyIds)) ORDER BY copy_id, position");
        Add("SELECT id, 'cover', folder_cover_path FROM copy WHERE id IN (SELECT value FROM json_each(@copyIds)) AND folder_cover_path IS NOT NULL");
        return sums.ToDictionary(pair => pair.Key, pair => System.Convert.ToHexStringLower(pair.Value.GetCurrentHash()));

        void Add(string sql)
        {
            using var reader = connection.ExecuteReader(sql, new { copyIds });
            while (reader.Read())
            {
                long id = reader.GetInt64(0);
                if (!sums.TryGetValue(id, out var sum))
                    sums[id] = sum = new XxHash128();
                sum.Append(Encoding.UTF8.GetBytes(reader.GetString(1) + "\0" + reader.GetString(2) + "\0"));
            }
        }
    }

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
