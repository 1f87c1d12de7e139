using System.Data;
using Dapper;
using Microsoft.Extensions.Logging;
using Wergamon.App.Storage;

namespace Wergamon.App.Tracks;

/// <summary>Changes many rows in one transaction; if that fails, one at a time, so that one bad item does not affect the others.</summary>
internal static class IsolatedBatch
{
    /// <param name="change">The change for any of the items, in one transaction.</param>
    /// <param name="setAside">What is recorded instead for an item whose change fails.</param>
    public static void Change<T>(
        Database database, ILogger logger, IReadOnlyList<T> items, Action<IDbConnection, IReadOnlyList<T>> change,
        Action<IDbConnection, T, Exception> setAside)
    {
        try
        {
            database.Change(connection => change(connection, items));
            return;
        }
        catch (Exception failure) when (IsOfItem(failure))
        {
            logger.LogWarning("A batch of {Count} failed and is repeated one by one: {Reason}", items.Count, failure.Message);
        }

        foreach (var item in items)
        {
            try
            {
                database.Change(connection => change(connection, [item]));
            }
            catch (Exception failure) when (IsOfItem(failure))
            {
                logger.LogError(failure, "{Item} is set aside", item);
                database.Change(connection => setAside(connection, item, failure));
            }
        }
    }

    /// <summary>Lists the file of a copy among those that could not be examined; it is tried again when it changes.</summary>
    public static void ListCopy(IDbConnection connection, long copyId, Exception failure) => connection.Execute(
        """
        INSERT INTO unreadable_file (path, folder_id, reason, file_bytes, modified_at, file_number)
        SELECT path, folder_id, @reason, file_bytes, modified_at, file_number FROM copy WHERE id = @copyId AND folder_id IS NOT NULL
        ON CONFLICT (path) DO UPDATE SET reason = excluded.reason, file_bytes = excluded.file_bytes, modified_at = excluded.modified_at,
            file_number = excluded.file_number
        """,
        new { copyId, reason = NotExamined(failure) });

    /// <summary>The reason for a file at which the application itself failed.</summary>
    public static string NotExamined(Exception failure) =>
        $"It could not be examined: {failure.Message} The log has the details. It is tried again when it changes.";

    private static bool IsOfItem(Exception failure) => failure is not (OperationCanceledException or StorageProblemException);
}
