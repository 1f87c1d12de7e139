using System.Data;
using Dapper;
using Wergamon.App.Library.Scan;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.Core.Jobs;

namespace Wergamon.App.Copies;

/// <summary>Keeps the library in step with files that are moved or written to here; files that it does not list are skipped.</summary>
public sealed class CopyFiles(Database database, FileScanner scanner, LibraryWriter writer, CopyHistory history, Signals signals)
{
    /// <summary>The copy whose file has a path; null if the library has none.</summary>
    public CopyRow? At(string path)
    {
        using var connection = database.Open();
        return CopyRows.Read(connection, "c.path = @path AND NOT c.is_trashed", new { path }).FirstOrDefault();
    }

    /// <summary>
    /// Corrects a copy whose header was read wrong by what a decoder made of it; null for a file that has changed since its scan.
    /// </summary>
    public CopyRow? CorrectFormat(long copyId, DifferentSourceReply found) => database.Change(connection =>
        LibraryWriter.CorrectFormat(connection, copyId, found.Found, found.FrameCount)
            ? CopyRows.Read(connection, "c.id = @copyId", new { copyId }).FirstOrDefault()
            : null);

    /// <summary>Whether no known copy has a path.</summary>
    public bool IsFree(string path)
    {
        using var connection = database.Open();
        return !connection.ExecuteScalar<bool>("SELECT EXISTS (SELECT 1 FROM copy WHERE path = @path)", new { path });
    }

    /// <summary>Records that the file of a copy has another name, within the change of everything else that depends on the name.</summary>
    internal void SetPath(IDbConnection connection, string from, string to)
    {
        if (connection.QueryFirstOrDefault<long?>(
            "UPDATE copy SET path = @to WHERE path = @from AND NOT is_trashed RETURNING id", new { from, to }) is { } id)
            history.Note(connection, id, "renamed in its mirror");
    }

    /// <summary>Records that the tags of a file have changed and its sound has not.</summary>
    public async Task SaveTagsAsync(string path)
    {
        if (At(path) is not { } copy)
            return;
        // The file is written, and that is recorded even if the run is stopped now.
        var scanned = await scanner.ScanAsync(path, CancellationToken.None).ConfigureAwait(false);
        if (scanned.Facts is null)
            return;
        database.Change(connection =>
        {
            writer.SaveEdited(connection, copy.Id, scanned);
            history.Note(connection, copy.Id, "tags of its source written");
        });
        signals.Send(new Signal(Signal.Library));
    }
}
