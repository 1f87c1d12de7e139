using System.Data;
using System.IO.Hashing;
using Dapper;
using Wergamon.App.Storage;
using Wergamon.Core.Tags;

namespace Wergamon.App.Tags;

/// <summary>
/// Keeps the bytes that tag writes replace. They are stored before a file is changed, so that an interrupted write is undone.
/// </summary>
public sealed class TagUndo(Database database)
{
    private const string Columns = "item_id, copy_id, is_done, is_in_place, old_length, old_path, new_length, new_hash, undone_by";

    internal void Keep(long itemId, long copyId, TagEdit edit, TagEdit inverse, long oldLength) => database.Change(connection =>
    {
        connection.Execute("DELETE FROM tag_undo WHERE item_id = @itemId", new { itemId });
        connection.Execute(
            """
            INSERT INTO tag_undo (item_id, copy_id, is_done, is_in_place, old_length, new_length, new_hash)
                VALUES (@itemId, @copyId, 0, @IsInPlace, @oldLength, @Length, @hash)
            """,
            new { itemId, copyId, edit.IsInPlace, oldLength, edit.Length, hash = HashOf(inverse, edit) });
        connection.Execute(
            "INSERT INTO tag_undo_piece (item_id, position, \"offset\", length, bytes) "
                + "VALUES (@itemId, @position, @Offset, @Length, @bytes)",
            inverse.Pieces.Select(
                (piece, position) =>
                    new { itemId, position, piece.Offset, piece.Length, bytes = piece.IsKept ? null : piece.Bytes.ToArray() }));
    });

    /// <summary>Records within a change that the file is written.</summary>
    internal static void Finish(IDbConnection connection, long itemId, string? oldPath) =>
        connection.Execute("UPDATE tag_undo SET is_done = 1, old_path = @oldPath WHERE item_id = @itemId", new { itemId, oldPath });

    /// <summary>Forgets a write that was not made.</summary>
    internal void Drop(long itemId) =>
        database.Change(connection => connection.Execute("DELETE FROM tag_undo WHERE item_id = @itemId AND NOT is_done", new { itemId }));

    internal TagUndoRow? Find(long itemId)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<TagUndoRow>($"SELECT {Columns} FROM tag_undo WHERE item_id = @itemId", new { itemId });
    }

    /// <summary>A later write to the same copy that was not undone; null when there is none.</summary>
    internal long? LaterThan(TagUndoRow write)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<long?>(
            """
            SELECT u.item_id FROM tag_undo u JOIN run_item i ON i.id = u.item_id
            WHERE u.copy_id = @CopyId AND u.is_done AND u.undone_by IS NULL AND u.item_id > @ItemId AND i.kind = @kind
                ORDER BY u.item_id DESC LIMIT 1
            """,
            new { write.CopyId, write.ItemId, kind = TagWriteHandler.ItemKind.Name });
    }

    /// <summary>The latest write to a copy, undone or not; null if there was none.</summary>
    internal TagUndoRow? LatestOf(long copyId)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<TagUndoRow>(
            $"SELECT {Columns} FROM tag_undo WHERE copy_id = @copyId AND is_done ORDER BY item_id DESC LIMIT 1", new { copyId });
    }

    /// <summary>The edit that turns the written file back into the old one.</summary>
    internal TagEdit InverseOf(long itemId)
    {
        using var connection = database.Open();
        var edit = new TagEdit();
        foreach (var (offset, length, bytes) in connection.Query<(long Offset, long Length, byte[]? Bytes)>(
            "SELECT \"offset\", length, bytes FROM tag_undo_piece WHERE item_id = @itemId ORDER BY position", new { itemId }))
        {
            if (bytes is null)
                edit.Keep(offset, length);
            else
                edit.Add(bytes);
        }

        return edit;
    }

    /// <summary>Whether the part of a file that a write changed is still as the write left it.</summary>
    internal static bool IsAsWritten(Stream file, TagUndoRow write, TagEdit inverse)
    {
        if (file.Length != write.NewLength)
            return false;
        var hash = new XxHash128();
        foreach (var (from, to) in Gaps(inverse, file.Length))
        {
            var bytes = new byte[to - from];
            file.Position = from;
            file.ReadExactly(bytes);
            hash.Append(bytes);
        }

        return System.Convert.ToHexStringLower(hash.GetCurrentHash()) == write.NewHash;
    }

    private static string HashOf(TagEdit inverse, TagEdit edit)
    {
        var hash = new XxHash128();
        foreach (var (from, to) in Gaps(inverse, edit.Length))
        {
            long at = 0;
            foreach (var piece in edit.Pieces)
            {
                long start = Math.Max(from, at), end = Math.Min(to, at + piece.Length);
                if (start < end && !piece.IsKept)
                    hash.Append(piece.Bytes.Span[(int)(start - at)..(int)(end - at)]);
                at += piece.Length;
            }
        }

        return System.Convert.ToHexStringLower(hash.GetCurrentHash());
    }

    /// <summary>The ranges of the written file that differ from the old one.</summary>
    private static IEnumerable<(long From, long To)> Gaps(TagEdit inverse, long length)
    {
        long at = 0;
        foreach (var piece in inverse.Pieces.Where(piece => piece.IsKept))
        {
            if (piece.Offset > at)
                yield return (at, piece.Offset);
            at = piece.Offset + piece.Length;
        }

        if (length > at)
            yield return (at, length);
    }
}
