using System.Data;
using Dapper;
using Wergamon.App.Runs;
using Wergamon.App.Storage;

namespace Wergamon.App.Deliver;

/// <summary>The runs that carry deliveries out, one at a time for each.</summary>
public sealed class DeliveryRuns(Database database, DeliveryStore store, RunStore runs, DeliverySpool spool, RunScheduler scheduler)
{
    /// <summary>
    /// Starts a run; returns it, or the reason, for the person, why that is not possible. The spool of earlier runs is emptied.
    /// </summary>
    /// <param name="addItems">Gets the new run and adds its items; gives their numbers.</param>
    /// <param name="staysInSpool">True for files that are fetched from there later.</param>
    internal (long? RunId, string? Problem) Start(
        long deliveryId, NewRun run, Func<IDbConnection, long, IReadOnlyList<long>> addItems, bool staysInSpool = false)
    {
        var (started, problem) = database.Change<(long?, string?)>(connection =>
        {
            if (ProblemOf(connection, deliveryId) is { } underWay)
                return (null, underWay);
            long id = runs.Insert(connection, run);
            connection.Execute("INSERT INTO delivery_run (run_id, delivery_id) VALUES (@id, @deliveryId)", new { id, deliveryId });
            var items = addItems(connection, id);
            if (staysInSpool)
                return (id, null);
            long end = RunStore.InsertItem(
                connection, id, items.Count,
                DeliveryEndHandler.ItemKind.New(Lane.Files, "Clearing up", 0, new NoSpec()) with { IsResult = false });
            foreach (long item in items)
                RunStore.InsertWait(connection, end, item, WaitReason.End);
            return (id, null);
        });
        if (started is null)
            return (null, problem);
        ClearEnded(deliveryId);
        return (started, null);
    }

    /// <summary>Gives the stopped run of a delivery up: the remaining items are skipped.</summary>
    public void GiveUp(long deliveryId)
    {
        if (store.LatestRun(deliveryId) is not { } run)
            return;
        scheduler.GiveUp(run);
        ClearEnded(deliveryId);
    }

    /// <summary>Removes a delivery; gives the reason, for the person, when that is not possible now.</summary>
    public string? Remove(long deliveryId)
    {
        using (var connection = database.Open())
        {
            if (ProblemOf(connection, deliveryId) is { } underWay)
                return underWay;
        }

        ClearEnded(deliveryId);
        store.Remove(deliveryId);
        return null;
    }

    private static string? ProblemOf(IDbConnection connection, long deliveryId) => connection.QueryFirstOrDefault<string?>(
        "SELECT r.state FROM delivery_run d JOIN run r ON r.id = d.run_id WHERE d.delivery_id = @deliveryId AND r.state <> 'done' "
            + "ORDER BY r.id DESC LIMIT 1",
        new { deliveryId }) switch
    {
        null => null,
        "stopped" => "An earlier run of it is stopped: continue it, or give it up.",
        _ => "It is being written already.",
    };

    private void ClearEnded(long deliveryId)
    {
        foreach (long run in store.Runs(deliveryId).Where(run => runs.Get(run) is null or { State: RunState.Done }))
            spool.Clear(run);
    }
}
