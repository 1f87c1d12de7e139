using Dapper;
using Wergamon.App.Files;
using Wergamon.App.Library;
using Wergamon.App.Storage;

namespace Wergamon.App.Tags;

/// <summary>Takes a file whose tags were written into the library again.</summary>
public sealed class TagRecord(Database database, FileScanner scanner, LibraryWriter writer, CopyHistory history, CopyFiles copies, Placement placement, Signals signals)
{
    /// <summary>Where the file of a copy is; null for one that is missing or in the trash.</summary>
    internal string? Find(long copyId)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<string>("SELECT path FROM copy WHERE id = @copyId AND NOT is_trashed", new { copyId }) is { } path && PlainFile.Exists(path) ? path : null;
    }

    /// <summary>True when an item was recorded and only its end was not.</summary>
    internal bool IsFinished(long itemId)
    {
        using var connection = database.Open();
        return connection.ExecuteScalar<bool>("SELECT EXISTS (SELECT 1 FROM tag_undo WHERE item_id = @itemId AND is_done)", new { itemId });
    }

    /// <summary>Gives a file another name; the folder it leaves goes if it is empty. Returns where it is now.</summary>
    internal string Move(string path, string wanted)
    {
        var moved = placement.Move(path, wanted, isFree: copies.IsFree);
        Placement.RemoveEmptyFolder(Path.GetDirectoryName(path)!);
        return moved;
    }

    internal async Task SaveAsync(long copyId, long itemId, string oldPath, string path, string words, long? undoes = null)
    {
        // The file is written, which is recorded even if the run is stopped now.
        var scanned = await scanner.ScanAsync(path, CancellationToken.None).ConfigureAwait(false);
        database.Change(connection =>
        {
            connection.Execute("UPDATE copy SET path = @path WHERE id = @copyId", new { path, copyId });
            if (scanned.Facts is not null)
                writer.SaveEdited(connection, copyId, scanned);
            history.Note(connection, copyId, undoes is null ? $"tags written: {words}" : "tags undone");
            TagUndo.Finish(connection, itemId, path == oldPath ? null : oldPath);
            if (undoes is { } undone)
                connection.Execute("UPDATE tag_undo SET undone_by = @itemId WHERE item_id = @undone", new { itemId, undone });
        });
        signals.Send(new Signal(Signal.Library));
    }
}
