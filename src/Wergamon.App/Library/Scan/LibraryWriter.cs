using System.Data;
using System.Security.Cryptography;
using System.Text.Json;
using Dapper;
using Wergamon.App.Files;
using Wergamon.App.Library.Matching;
using Wergamon.App.Tracks;
using Wergamon.Core.Audio;
using Wergamon.Core.Matching;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;

namespace Wergamon.App.Library.Scan;

/// <summary>Writes scanned files to the database: album, track, copy, tags and artwork.</summary>
public sealed class LibraryWriter(NewTracks tracks, CopyHistory history, TimeProvider time)
{
    /// <summary>Adds a file as a new track, or updates the copy at its path; returns the ID of the copy.</summary>
    internal long SaveScanned(IDbConnection connection, long folderId, ScannedFile file)
    {
        connection.Execute("DELETE FROM unreadable_file WHERE path = @Path", new { file.Path });
        var facts = file.Facts!;
        long? copyId = connection.ExecuteScalar<long?>("SELECT id FROM copy WHERE path = @Path", new { file.Path });
        var fidelity = facts.IsLossless ? Fidelity.Exact : Fidelity.Lossy;
        if (copyId is { } known)
        {
            NoteChanges(connection, known, file);
            connection.Execute("UPDATE copy SET folder_id = @folderId, is_missing = 0 WHERE id = @known", new { folderId, known });
            UpdateFacts(connection, known, file);
            UpdateTrack(connection, known, file);
            return known;
        }

        long trackId = InsertTrack(connection, file);
        return InsertCopy(connection, trackId, folderId, file, fidelity, facts.IsLossless ? 0 : 1);
    }

    internal static void SaveUnreadable(IDbConnection connection, long folderId, ScannedFile file) =>
        connection.Execute(
            """
            INSERT INTO unreadable_file (path, folder_id, reason, file_bytes, modified_at, file_number)
                VALUES (@Path, @folderId, @Unreadable, @Bytes, @ModifiedAt, @Number)
            ON CONFLICT (path) DO UPDATE
                SET reason = excluded.reason, file_bytes = excluded.file_bytes, modified_at = excluded.modified_at,
                    file_number = excluded.file_number
            """,
            new { file.Path, folderId, file.Unreadable, file.Stamp.Bytes, file.Stamp.ModifiedAt, file.Stamp.Number });

    /// <summary>Adds a copy to a track, or reuses the copy whose file was replaced.</summary>
    internal long InsertCopy(IDbConnection connection, long trackId, long? folderId, ScannedFile file, Fidelity fidelity, int generation)
    {
        long id = connection.ExecuteScalar<long>(
            """
            INSERT INTO copy (track_id, folder_id, path, file_format, codec_name, sample_rate, channels, channel_roles, bits, is_float,
                frame_count, is_lossless,
                kilobits_per_second, fidelity, generation, file_bytes, modified_at, tags_total, tags_from_name, added_at)
            VALUES (@trackId, @folderId, @Path, '', '', 0, 0, 0, 0, 0, 0, 0, 0, @fidelity, @generation, 0, 0, 0, 0, @now)
            ON CONFLICT (path) DO UPDATE SET track_id = excluded.track_id, fidelity = excluded.fidelity, generation = excluded.generation,
                is_missing = 0
            RETURNING id
            """,
            new { trackId, folderId, file.Path, fidelity = (int)fidelity, generation, now = Now() });
        UpdateFacts(connection, id, file);
        return id;
    }

    /// <summary>
    /// Corrects what a header said wrong about the sound; false, without a change, when the file is not the one that was scanned.
    /// </summary>
    internal static bool CorrectFormat(IDbConnection connection, long copyId, PcmFormat found, long? frames)
    {
        var (path, bytes, modifiedAt, number) = connection.QueryFirstOrDefault<(string Path, long Bytes, long ModifiedAt, long Number)>(
            "SELECT path, file_bytes, modified_at, file_number FROM copy WHERE id = @copyId", new { copyId });
        if (path is null || !new FileStamp(bytes, modifiedAt, number).Fits(FileStamp.Of(path)))
            return false;
        connection.Execute(
            """
            UPDATE copy SET sample_rate = @rate, channels = @Channels, channel_roles = @roles, bits = @Bits, is_float = @IsFloat,
                frame_count = COALESCE(@frames, frame_count) WHERE id = @copyId
            """,
            new { copyId, rate = found.Rate.Hertz, found.Channels, roles = (long)found.Roles, found.Bits, found.IsFloat, frames });
        return true;
    }

    private static void UpdateFacts(IDbConnection connection, long copyId, ScannedFile file)
    {
        var facts = file.Facts!;
        connection.Execute(
            """
            UPDATE copy SET file_format = @fileFormat, codec_name = @CodecName, sample_rate = @rate, channels = @channels,
                channel_roles = @roles, bits = @bits,
                is_float = @isFloat, frame_count = @FrameCount, is_lossless = @IsLossless, kilobits_per_second = @KilobitsPerSecond,
                is_variable = @IsVariableBitRate, file_bytes = @Bytes, modified_at = @ModifiedAt, file_number = @Number, damage = @damage,
                    folder_cover_path = @FolderCoverPath,
                tags_total = @tagsTotal, tags_from_name = @fromName, streams = @streams
            WHERE id = @copyId
            """,
            new
            {
                copyId,
                fileFormat = facts.FileFormat?.Key ?? "",
                facts.CodecName,
                rate = facts.Format.Rate.Hertz,
                channels = facts.Format.Channels,
                roles = (long)facts.Format.Roles,
                bits = facts.Format.Bits,
                isFloat = facts.Format.IsFloat,
                facts.FrameCount,
                facts.IsLossless,
                facts.KilobitsPerSecond,
                facts.IsVariableBitRate,
                file.Stamp.Bytes,
                file.Stamp.ModifiedAt,
                file.Stamp.Number,
                damage = facts.Damage.Count == 0 ? null : string.Join(' ', facts.Damage),
                file.FolderCoverPath,
                tagsTotal = file.Tags.Fields.Count + file.Tags.Pictures.Count + file.Tags.Opaque.Count,
                fromName = file.FieldsFromName.Count,
                streams = facts.Streams.Count == 0
                    ? null
                    : JsonSerializer.Serialize(facts.Streams, TracksJson.Default.IReadOnlyListSoundStream),
            });
        SaveTags(connection, copyId, file);
        SavePictures(connection, copyId, file.Pictures);
    }

    private static void SaveTags(IDbConnection connection, long copyId, ScannedFile file)
    {
        connection.Execute("DELETE FROM tag WHERE copy_id = @copyId", new { copyId });
        var rows = file.Tags.Fields
            .SelectMany(field => field.Values, (field, value) => (field.Name, Value: value))
            .Select((row, position) => new { copyId, position, row.Name, row.Value, fromName = file.FieldsFromName.Contains(row.Name) });
        connection.Execute(
            "INSERT INTO tag (copy_id, position, name, value, from_name) VALUES (@copyId, @position, @Name, @Value, @fromName)", rows);
        connection.Execute("DELETE FROM opaque_tag WHERE copy_id = @copyId", new { copyId });
        connection.Execute(
            "INSERT INTO opaque_tag (copy_id, position, dialect, name, bytes) VALUES (@copyId, @position, @Dialect, @Id, @Length)",
            file.Tags.Opaque.Select((field, position) => new { copyId, position, field.Dialect, field.Id, field.Data.Length }));
    }

    private static void SavePictures(IDbConnection connection, long copyId, IReadOnlyList<(Picture Picture, string Hash)> pictures)
    {
        connection.Execute("DELETE FROM copy_artwork WHERE copy_id = @copyId", new { copyId });
        for (int position = 0; position < pictures.Count; position++)
        {
            var (picture, hash) = pictures[position];
            SaveArtwork(connection, picture, hash);
            connection.Execute(
                "INSERT INTO copy_artwork (copy_id, position, kind, description, hash) "
                    + "VALUES (@copyId, @position, @kind, @Description, @hash)",
                new { copyId, position, kind = (int)picture.Kind, picture.Description, hash });
        }
    }

    /// <summary>Stores a picture once and returns its SHA-256.</summary>
    internal static string SaveArtwork(IDbConnection connection, Picture picture)
    {
        var hash = HashOf(picture);
        SaveArtwork(connection, picture, hash);
        return hash;
    }

    internal static string HashOf(Picture picture) => System.Convert.ToHexStringLower(SHA256.HashData(picture.Data.Span));

    private static void SaveArtwork(IDbConnection connection, Picture picture, string hash)
    {
        // Most tracks of an album hold the same picture; its bytes are stored once.
        if (connection.ExecuteScalar<bool>("SELECT EXISTS (SELECT 1 FROM artwork WHERE hash = @hash)", new { hash }))
            return;
        var size = PictureSize.Of(picture.Data.Span);
        connection.Execute(
            "INSERT INTO artwork (hash, mime_type, width, height, data) VALUES (@hash, @MimeType, @Width, @Height, @data) "
                + "ON CONFLICT (hash) DO NOTHING",
            new { hash, picture.MimeType, size?.Width, size?.Height, data = picture.Data.ToArray() });
    }

    /// <summary>Removes copies from the library, and tracks and albums that have none left. Past runs are kept.</summary>
    /// <param name="condition">Over columns of copy.</param>
    internal static void ForgetCopies(IDbConnection connection, string condition, object parameters)
    {
        connection.Execute($"DELETE FROM copy WHERE {condition}", parameters);
        const string Bare = "(SELECT id FROM track WHERE NOT EXISTS (SELECT 1 FROM copy WHERE track_id = track.id))";
        connection.Execute($"DELETE FROM plan_item WHERE track_id IN {Bare}");
        connection.Execute($"DELETE FROM track WHERE id IN {Bare}");
        TrackMerge.RemoveEmptyAlbums(connection);
        connection.Execute(
            "DELETE FROM artwork WHERE hash NOT IN (SELECT hash FROM copy_artwork) AND hash NOT IN (SELECT hash FROM disc_picture) "
                + "AND hash NOT IN (SELECT hash FROM tag_sheet_picture)");
    }

    internal long InsertTrack(IDbConnection connection, ScannedFile file) =>
        tracks.Insert(connection, TrackFacts.From(file.Tags, file.Path), Now());

    private void UpdateTrack(IDbConnection connection, long copyId, ScannedFile file)
    {
        // Copies made here have their track's tags, and joined files came later; only the file that brought the track
        // names it.
        if (connection.ExecuteScalar<bool>(
            "SELECT EXISTS (SELECT 1 FROM lineage WHERE copy_id = @copyId) OR EXISTS (SELECT 1 FROM track_match WHERE copy_id = @copyId)",
            new { copyId }))
            return;
        MoveTrack(connection, copyId, file);
    }

    /// <summary>
    /// Records what has changed in a file that was changed outside; with another length it is other music and leaves its track.
    /// </summary>
    private void NoteChanges(IDbConnection connection, long copyId, ScannedFile file)
    {
        var (
            frames, rate, bytes, modifiedAt, number)
            = connection.QuerySingle<(long Frames, int Rate, long Bytes, long ModifiedAt, long Number)>(
            "SELECT frame_count, sample_rate, file_bytes, modified_at, file_number FROM copy WHERE id = @copyId", new { copyId });
        if (file.Stamp.Fits(new FileStamp(bytes, modifiedAt, number)))
            return;
        var before = LibraryQueries.ReadTags(connection, copyId);
        var changed = before.Fields.Concat(file.Tags.Fields).Select(field => field.Name).Distinct(StringComparer.OrdinalIgnoreCase)
            .Where(name => !before[name].SequenceEqual(file.Tags[name])).ToList();
        history.Note(
            connection, copyId, changed.Count == 0 ? "file changed outside" : $"file changed outside: {string.Join(", ", changed)}");
        double lengthChange = file.Facts!.Duration.TotalSeconds - (double)frames / Math.Max(1, rate);
        if (Math.Abs(lengthChange) <= NameMatch.Tolerance.TotalSeconds)
            return;
        var company = connection.ExecuteScalar<bool>(
            "SELECT EXISTS (SELECT 1 FROM track_match WHERE copy_id = @copyId OR with_copy_id = @copyId)", new { copyId });
        if (company)
            TrackMerge.Split(connection, [copyId], tracks.InsertFor(connection, copyId));
    }

    /// <summary>Adopts new names of a copy made here, for its track too.</summary>
    internal void SaveRenamed(IDbConnection connection, long copyId, ScannedFile file)
    {
        UpdateKeepingSound(connection, copyId, file);
        MoveTrack(connection, copyId, file);
    }

    /// <summary>Adopts what was written to a file; the names of a track are those of its master copy.</summary>
    internal void SaveEdited(IDbConnection connection, long copyId, ScannedFile file)
    {
        UpdateKeepingSound(connection, copyId, file);
        // All copies of the track may have been moved to the trash in the meantime.
        var master = CopyRows
            .Read(connection, "c.track_id = (SELECT track_id FROM copy WHERE id = @copyId) AND NOT c.is_trashed", new { copyId })
            .FirstOrDefault();
        if (master?.Id == copyId)
            MoveTrack(connection, copyId, file);
    }

    /// <summary>
    /// The sound is proved to be unchanged, so its analysis is kept, and so is its track unless the names by which files are matched have
    /// changed.
    /// </summary>
    private static void UpdateKeepingSound(IDbConnection connection, long copyId, ScannedFile file)
    {
        bool isToMatch = connection.ExecuteScalar<bool>("SELECT EXISTS (SELECT 1 FROM to_match WHERE copy_id = @copyId)", new { copyId });
        var names = CopyTraitsRows.ReadNames(connection, copyId);
        connection.Execute("INSERT OR IGNORE INTO sound_kept (copy_id) VALUES (@copyId)", new { copyId });
        UpdateFacts(connection, copyId, file);
        connection.Execute("DELETE FROM sound_kept WHERE copy_id = @copyId", new { copyId });
        if (!isToMatch && names.SequenceEqual(CopyTraitsRows.ReadNames(connection, copyId)))
            connection.Execute("DELETE FROM to_match WHERE copy_id = @copyId", new { copyId });
    }

    private void MoveTrack(IDbConnection connection, long copyId, ScannedFile file)
    {
        var facts = TrackFacts.From(file.Tags, file.Path);
        long left = connection.ExecuteScalar<long>(
            "SELECT t.album_id FROM track t JOIN copy c ON c.track_id = t.id WHERE c.id = @copyId", new { copyId });
        connection.Execute(
            "UPDATE track SET album_id = @albumId, disc = @Disc, number = @Number, title = @Title, artist = @Artist WHERE id = "
                + "(SELECT track_id FROM copy WHERE id = @copyId)",
            new { albumId = tracks.FindOrAddAlbum(connection, facts), facts.Disc, facts.Number, facts.Title, facts.Artist, copyId });
        connection.Execute("DELETE FROM album WHERE id = @left AND NOT EXISTS (SELECT 1 FROM track WHERE album_id = @left)", new { left });
    }

    private long Now() => time.GetUtcNow().ToUnixTimeMilliseconds();
}
