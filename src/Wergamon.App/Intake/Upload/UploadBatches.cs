using System.Globalization;
using Dapper;
using Wergamon.App.Files;
using Wergamon.App.Storage;

namespace Wergamon.App.Intake.Upload;

/// <summary>
/// Files that are uploaded together to be converted: each batch has a folder of its own in the data folder, which goes some days
/// after the batch arrived, once no run needs it.
/// </summary>
public sealed class UploadBatches(Database database, AppOptions options, TimeProvider time)
{
    private static readonly TimeSpan KeptFor = TimeSpan.FromDays(7);

    private string Folder => Path.Combine(options.DataFolder, "uploads");

    /// <summary>Starts a batch; returns its number.</summary>
    public long Begin() => database.Change(connection =>
    {
        long id = connection.ExecuteScalar<long>(
            "INSERT INTO upload_batch (path, created_at) VALUES ('', @now) RETURNING id",
            new { now = time.GetUtcNow().ToUnixTimeMilliseconds() });
        var path = Path.Combine(Folder, id.ToString(CultureInfo.InvariantCulture));
        PlainFolder.Create(path);
        connection.Execute("UPDATE upload_batch SET path = @path WHERE id = @id", new { id, path });
        return id;
    });

    /// <summary>The folder of a batch; null for one that is gone.</summary>
    public string? PathOf(long id)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<string>("SELECT path FROM upload_batch WHERE id = @id", new { id });
    }

    /// <summary>The files of the batch belong to a plan from now on.</summary>
    public void SetPlan(long id, long planId) =>
        database.Change(connection => connection.Execute("UPDATE upload_batch SET plan_id = @planId WHERE id = @id", new { id, planId }));

    /// <summary>Removes old batches whose plans are neither open nor running.</summary>
    internal void RemoveOld() => database.Change(connection =>
    {
        var old = connection.Query<(long Id, string Path)>(
            """
            SELECT b.id, b.path FROM upload_batch b LEFT JOIN plan p ON p.id = b.plan_id LEFT JOIN run r ON r.id = p.run_id
            WHERE b.created_at < @before AND (p.id IS NULL OR r.state = 'done')
            """,
            new { before = (time.GetUtcNow() - KeptFor).ToUnixTimeMilliseconds() }).AsList();
        foreach (var (id, path) in old)
        {
            Placement.RemoveOwnFolder(path);
            connection.Execute("DELETE FROM upload_batch WHERE id = @id", new { id });
        }
    });
}
