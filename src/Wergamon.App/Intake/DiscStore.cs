using System.Data;
using System.Text.Json;
using Dapper;
using Wergamon.App.Library.Scan;
using Wergamon.App.Storage;
using Wergamon.Core.Discs;
using Wergamon.Core.Tags;

namespace Wergamon.App.Intake;

/// <summary>A picture that belongs to a disc.</summary>
public sealed record DiscPicture(PictureKind Kind, string Hash, string MimeType, int? Width, int? Height);

/// <summary>The known discs with their names.</summary>
public sealed class DiscStore(Database database, TimeProvider time)
{
    private const string Columns = "id, sha1_id, checksum_id, contents, album, named_by, seen_at";

    public DiscRow? Get(long id)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<DiscRow>($"SELECT {Columns} FROM disc WHERE id = @id", new { id });
    }

    /// <summary>The disc with this table of contents that was named last; null when none was seen.</summary>
    public DiscRow? Find(TableOfContents contents)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<DiscRow>(
            $"SELECT {Columns} FROM disc WHERE sha1_id = @id ORDER BY seen_at DESC, id DESC LIMIT 1", new { id = DiscId.Sha1(contents) });
    }

    public DiscRow Add(TableOfContents contents, DiscAlbum album, string namedBy)
    {
        return database.Change(connection => connection.QuerySingle<DiscRow>(
            "INSERT INTO disc (sha1_id, checksum_id, contents, album, named_by, seen_at) "
                + $"VALUES (@sha1, @checksum, @contents, @album, @namedBy, @now) RETURNING {Columns}",
            new
            {
                sha1 = DiscId.Sha1(contents),
                checksum = DiscId.Checksum(contents),
                contents = JsonSerializer.Serialize(contents, IntakeJson.Default.TableOfContents),
                album = JsonSerializer.Serialize(album, IntakeJson.Default.DiscAlbum),
                namedBy,
                now = Now(),
            }));
    }

    public void Rename(long id, DiscAlbum album, string namedBy)
    {
        database.Change(connection => connection.Execute(
            "UPDATE disc SET album = @album, named_by = @namedBy, seen_at = @now WHERE id = @id",
            new { id, album = JsonSerializer.Serialize(album, IntakeJson.Default.DiscAlbum), namedBy, now = Now() }));
    }

    /// <summary>True when copies were made, or are being made, from the disc under the names it has.</summary>
    public bool WasRead(long id)
    {
        using var connection = database.Open();
        return connection.ExecuteScalar<bool>("SELECT EXISTS (SELECT 1 FROM rip WHERE disc_id = @id)", new { id });
    }

    public IReadOnlyList<DiscPicture> Pictures(long id)
    {
        using var connection = database.Open();
        return
        [
            .. connection.Query<(long Kind, string Hash, string MimeType, long? Width, long? Height)>(
                "SELECT p.kind, p.hash, a.mime_type, a.width, a.height FROM disc_picture p JOIN artwork a ON a.hash = p.hash "
                    + "WHERE p.disc_id = @id ORDER BY p.kind <> 3, p.kind",
                new { id })
                .Select(row => new DiscPicture((PictureKind)row.Kind, row.Hash, row.MimeType, (int?)row.Width, (int?)row.Height)),
        ];
    }

    /// <summary>Sets the picture of a kind.</summary>
    public void SetPicture(long id, PictureKind kind, ReadOnlyMemory<byte> data) => database.Change(connection =>
    {
        var hash = LibraryWriter.SaveArtwork(
            connection, new Picture(kind, PictureSize.MimeTypeOf(data.Span) ?? "application/octet-stream", "", data));
        connection.Execute(
            "INSERT OR REPLACE INTO disc_picture (disc_id, kind, hash) VALUES (@id, @kind, @hash)", new { id, kind = (int)kind, hash });
    });

    public void RemovePicture(long id, PictureKind kind)
    {
        database.Change(
            connection =>
                connection.Execute("DELETE FROM disc_picture WHERE disc_id = @id AND kind = @kind", new { id, kind = (int)kind }));
    }

    /// <summary>The pictures with their bytes, as copies get them.</summary>
    public IReadOnlyList<Picture> PicturesOf(long id)
    {
        using var connection = database.Open();
        return
        [
            .. connection.Query<(long Kind, string MimeType, byte[] Data)>(
                "SELECT p.kind, a.mime_type, a.data FROM disc_picture p JOIN artwork a ON a.hash = p.hash WHERE p.disc_id = @id "
                    + "ORDER BY p.kind <> 3, p.kind",
                new { id })
                .Select(row => new Picture((PictureKind)row.Kind, row.MimeType, "", row.Data)),
        ];
    }

    private long Now() => time.GetUtcNow().ToUnixTimeMilliseconds();
}
