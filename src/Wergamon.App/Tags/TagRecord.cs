using Dapper;
using Wergamon.App.Copies;
using Wergamon.App.Files;
using Wergamon.App.Library.Scan;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;

namespace Wergamon.App.Tags;

/// <summary>Updates the library with a file whose tags were written.</summary>
public sealed class TagRecord(
    Database database, FileScanner scanner, LibraryWriter writer, CopyHistory history, CopyFiles copies, Placement placement,
    Signals signals)
{
    /// <summary>The path of the file of a copy, now and before this item; null for one that is missing or in the trash.</summary>
    internal EditedFile? Find(long copyId, long itemId)
    {
        if (placement.RenameOf(itemId) is { } rename)
            return new EditedFile(rename.FinalPath, rename.SourcePath);
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<string>(
                    "SELECT path FROM copy WHERE id = @copyId AND NOT is_trashed", new { copyId }) is { } path
                && PlainFile.Exists(path)
            ? new EditedFile(path, path)
            : null;
    }

    /// <summary>True when the result of an item was recorded and only its end was not.</summary>
    internal bool IsFinished(long itemId)
    {
        using var connection = database.Open();
        return connection.ExecuteScalar<bool>("SELECT EXISTS (SELECT 1 FROM tag_undo WHERE item_id = @itemId AND is_done)", new { itemId });
    }

    /// <summary>Renames a file, unless the item has already done so.</summary>
    /// <param name="wanted">Null for the name that it has.</param>
    internal EditedFile Rename(long itemId, EditedFile file, string? wanted) =>
        wanted is null || file.IsRenamed || wanted == file.Path
            ? file
            : file with { Path = placement.Rename(itemId, file.Path, wanted, copies.IsFree) };

    internal async Task SaveAsync(long copyId, long itemId, EditedFile file, string words, long? undoes = null)
    {
        var path = file.Path;
        if (file.IsRenamed)
            Placement.RemoveEmptyFolder(Path.GetDirectoryName(file.OldPath)!);
        // The file is written, and that is recorded even if the run is stopped now.
        var scanned = await scanner.ScanAsync(path, CancellationToken.None).ConfigureAwait(false);
        database.Change(connection =>
        {
            connection.Execute("UPDATE copy SET path = @path WHERE id = @copyId", new { path, copyId });
            if (scanned.Facts is not null)
                writer.SaveEdited(connection, copyId, scanned);
            history.Note(connection, copyId, undoes is null ? $"tags written: {words}" : "tags undone");
            TagUndo.Finish(connection, itemId, file.IsRenamed ? file.OldPath : null);
            Placement.Commit(connection, itemId);
            if (undoes is { } undone)
                connection.Execute("UPDATE tag_undo SET undone_by = @itemId WHERE item_id = @undone", new { itemId, undone });
        });
        signals.Send(new Signal(Signal.Library));
    }
}
