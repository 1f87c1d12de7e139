using System.Data;
using Dapper;
using Wergamon.App.Storage;

namespace Wergamon.App.Runs;

/// <summary>Runs and their items in the database. Every change of state is committed before work continues.</summary>
public sealed class RunStore(Database database, TimeProvider time)
{
    private const string RunSelect =
        """
        SELECT r.id, r.kind, r.title, r.purpose, r.output_folder, r.state, r.stop_reason, r.started_at, r.ended_at, r.active_ms,
            COALESCE(SUM(i.is_result), 0) AS results,
            COALESCE(SUM(i.is_result AND i.state = 'done'), 0) AS done,
            COALESCE(SUM(i.is_result AND i.state = 'skipped'), 0) AS skipped,
            COALESCE(SUM(i.state = 'failed'), 0) AS failed,
            COALESCE(SUM(i.is_result AND i.state IN ('done', 'skipped', 'failed')), 0) AS ended,
            COALESCE(SUM(i.bytes_before), 0) AS bytes_before,
            COALESCE(SUM(i.bytes_after), 0) AS bytes_after,
            COALESCE(SUM(i.weight), 0) AS weight,
            COALESCE(SUM(CASE WHEN i.state IN ('done', 'skipped', 'failed') THEN i.weight END), 0) AS ended_weight
        FROM run r LEFT JOIN run_item i ON i.run_id = r.id
        """;

    private const string ItemColumns = "id, run_id, position, kind, lane, state, title, is_result, weight, spec, checkpoint, result, "
        + "failure";

    private const string Open = "('waiting', 'working')";

    /// <summary>Raised after a run was added, continued or retried and that is committed. Handlers must be short.</summary>
    public event Action? WorkAdded;

    /// <summary>Inserts a running run; its items are added within the same change, after which they can start.</summary>
    public long Insert(IDbConnection connection, NewRun run)
    {
        AnnounceWork(connection);
        return connection.ExecuteScalar<long>(
            """
            INSERT INTO run (kind, title, purpose, output_folder, state, started_at, turn)
            VALUES (@Kind, @Title, @Purpose, @OutputFolder, 'running', @now, (SELECT COALESCE(MAX(turn), 0) + 1 FROM run)) RETURNING id
            """,
            new { Kind = run.Kind.Key, run.Title, run.Purpose, run.OutputFolder, now = Now() });
    }

    public static long InsertItem(IDbConnection connection, long runId, int position, NewItem item)
    {
        long id = connection.ExecuteScalar<long>(
            """
            INSERT INTO run_item (run_id, position, kind, lane, state, title, is_result, weight, spec)
            VALUES (@runId, @position, @Kind, @Lane, 'waiting', @Title, @IsResult, @Weight, @Spec) RETURNING id
            """,
            new { runId, position, item.Kind, item.Lane, item.Title, item.IsResult, item.Weight, item.Spec });
        connection.Execute(
            "INSERT OR IGNORE INTO run_item_copy (item_id, copy_id) VALUES (@id, @copyId)",
            item.CopyIds.Select(copyId => new { id, copyId }));
        return id;
    }

    /// <param name="onItemId">An item of the same run that was inserted before.</param>
    public static void InsertWait(IDbConnection connection, long itemId, long onItemId, WaitReason reason) => connection.Execute(
        "INSERT INTO run_item_wait (item_id, on_item_id, reason) VALUES (@itemId, @onItemId, @reason)",
        new { itemId, onItemId, reason = reason.Text() });

    public RunRow? Get(long id)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<RunRow>(RunSelect + " WHERE r.id = @id GROUP BY r.id", new { id });
    }

    /// <summary>Those of the runs that there are, by number.</summary>
    public IReadOnlyDictionary<long, RunRow> Get(IEnumerable<long> ids)
    {
        using var connection = database.Open();
        return connection.Query<RunRow>(
            RunSelect + " WHERE r.id IN (SELECT value FROM json_each(@list)) GROUP BY r.id",
            new { list = "[" + string.Join(',', ids) + "]" }).ToDictionary(run => run.Id);
    }

    /// <summary>The newest runs, those under way first.</summary>
    public IReadOnlyList<RunRow> List(int max)
    {
        using var connection = database.Open();
        return connection.Query<RunRow>(
            RunSelect
                + " WHERE r.id IN (SELECT id FROM run ORDER BY state = 'done', id DESC LIMIT @max) GROUP BY r.id "
                + "ORDER BY r.state = 'done', CASE WHEN r.state = 'done' THEN -r.id ELSE r.turn END",
            new { max }).AsList();
    }

    public IReadOnlyList<RunRow> InState(RunState state) => database.Read(
        $"runs {state}",
        connection =>
            connection.Query<RunRow>(RunSelect + " WHERE r.state = @state GROUP BY r.id ORDER BY r.turn", new { state = state.Text() })
                .AsList());

    /// <summary>The runs that have ended since a moment, the latest last.</summary>
    public IReadOnlyList<long> EndedSince(DateTimeOffset moment)
    {
        using var connection = database.Open();
        return connection.Query<long>(
            "SELECT id FROM run WHERE state = 'done' AND ended_at >= @moment ORDER BY ended_at",
            new { moment = moment.ToUnixTimeMilliseconds() }).AsList();
    }

    public IReadOnlyList<RunItemRow> Items(long runId)
    {
        using var connection = database.Open();
        return connection.Query<RunItemRow>(
            $"SELECT {ItemColumns} FROM run_item WHERE run_id = @runId ORDER BY position, id", new { runId }).AsList();
    }

    /// <summary>Whether a run has items of a kind.</summary>
    /// <param name="kind">Its name.</param>
    public bool Has(long runId, string kind)
    {
        using var connection = database.Open();
        return connection.ExecuteScalar<bool>(
            "SELECT EXISTS (SELECT 1 FROM run_item WHERE run_id = @runId AND kind = @kind)", new { runId, kind });
    }

    public RunItemRow? Item(long id)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<RunItemRow>($"SELECT {ItemColumns} FROM run_item WHERE id = @id", new { id });
    }

    public IReadOnlyList<RunItemRow> ItemsInState(ItemState state)
    {
        using var connection = database.Open();
        return connection.Query<RunItemRow>(
            $"SELECT {ItemColumns} FROM run_item WHERE state = @state ORDER BY run_id, position", new { state = state.Text() }).AsList();
    }

    /// <summary>Whether an unfinished run uses any of these copies.</summary>
    /// <param name="copies">A subquery for the numbers of copies.</param>
    public static bool IsAtWork(IDbConnection connection, string copies, object parameters) => connection.ExecuteScalar<bool>(
        $"SELECT EXISTS (SELECT 1 FROM run_item_copy u JOIN run_item i ON i.id = u.item_id WHERE i.state IN {Open} "
            + $"AND u.copy_id IN ({copies}))",
        parameters);

    /// <summary>Takes the next item and marks it as working; null when there is none for the free lanes.</summary>
    internal RunItemRow? TakeNext(IReadOnlyCollection<string> fullLanes)
    {
        // Checked without the writers' lock first: usually there is nothing.
        using (var reading = database.Open())
        {
            if (FindNext(reading, fullLanes) is null)
                return null;
        }

        return database.Change(connection => FindNext(connection, fullLanes) is { } id
            ? connection.QuerySingle<RunItemRow>(
                "UPDATE run_item SET state = 'working', failure = NULL, result = NULL, checkpoint = NULL WHERE id = @id "
                    + $"RETURNING {ItemColumns}",
                new { id })
            : null);
    }

    internal void SetCheckpoint(long itemId, string checkpoint) =>
        database.Change(
            connection =>
                connection.Execute("UPDATE run_item SET checkpoint = @checkpoint WHERE id = @itemId", new { itemId, checkpoint }));

    /// <summary>True while a run is neither stopped nor done.</summary>
    internal bool IsRunning(long runId)
    {
        using var connection = database.Open();
        return connection.ExecuteScalar<bool>("SELECT EXISTS (SELECT 1 FROM run WHERE id = @runId AND state = 'running')", new { runId });
    }

    /// <param name="active">How long it was worked on.</param>
    internal void SetWaiting(RunItemRow item, TimeSpan active) => database.Change(connection =>
    {
        connection.Execute("UPDATE run_item SET state = 'waiting', checkpoint = NULL WHERE id = @Id", new { item.Id });
        AddActiveTime(connection, item.RunId, active);
    });

    /// <summary>Records the end of an item. Items that need its success fail with it.</summary>
    /// <param name="active">How long it was worked on.</param>
    internal void SetEnded(RunItemRow item, ItemOutcome outcome, TimeSpan active, ItemSizes sizes) => database.Change(connection =>
    {
        AddActiveTime(connection, item.RunId, active);
        connection.Execute(
            "UPDATE run_item SET state = @State, result = @Result, failure = @Reason, checkpoint = NULL, bytes_before = @Before, "
                + "bytes_after = @After WHERE id = @Id",
            new { State = outcome.State.Text(), outcome.Result, outcome.Reason, sizes.Before, sizes.After, item.Id });
        // What it sums up was retried meanwhile.
        connection.Execute(
            """
            UPDATE run_item SET state = 'waiting', result = NULL WHERE id = @Id AND state = 'done' AND EXISTS (
                SELECT 1 FROM run_item_wait w JOIN run_item o ON o.id = w.on_item_id WHERE w.item_id = @Id AND w.reason = 'end'
                    AND o.state IN ('waiting', 'working'))
            """,
            new { item.Id });
        if (outcome.State == ItemState.Failed)
            FailWaiting(connection, item.Id, $"{item.Title} failed before it: {outcome.Reason}");
    });

    /// <summary>Lets finished items whose results are lost, and their dependents, wait again in a run that is then stopped.</summary>
    /// <param name="hasResult">False for finished items whose results are gone, too.</param>
    /// <param name="reason">Why, for the person.</param>
    internal void Reopen(
        long runId, IReadOnlyList<long> itemIds, Func<RunItemRow, bool> hasResult, string reason) => database.Change(connection =>
    {
        LetWait(connection, Graph(connection, runId, hasResult).ToReopen(itemIds));
        connection.Execute(
            "UPDATE run SET state = 'stopped', stop_reason = @reason, ended_at = NULL WHERE id = @runId AND state = 'done'",
            new { runId, reason });
    });

    /// <summary>Stops a running run; false for any other.</summary>
    /// <param name="reason">Why, when no person asked for it.</param>
    /// <param name="waitsFor">Set where the run continues automatically.</param>
    internal bool Stop(long runId, string? reason, DestinationWait? waitsFor = null) => database.Change(connection => connection.Execute(
        "UPDATE run SET state = 'stopped', stop_reason = @reason, waits_in = @Folder, room_wanted = @BytesWanted WHERE id = @runId "
            + "AND state = 'running'",
        new { runId, reason, waitsFor?.Folder, waitsFor?.BytesWanted }) > 0);

    /// <summary>Whether a run has put a file below a folder.</summary>
    internal bool HasMadeIn(long runId, string folder)
    {
        using var connection = database.Open();
        return connection.ExecuteScalar<bool>(
            "SELECT EXISTS (SELECT 1 FROM run_item WHERE run_id = @runId AND state = 'done' "
                + "AND substr(result ->> '$.path', 1, length(@below)) = @below)",
            new { runId, below = folder.TrimEnd('/') + "/" });
    }

    /// <summary>Runs that wait for space, or for a drive.</summary>
    internal IReadOnlyList<(long RunId, DestinationWait Wait)> WaitingForDestination() => database.Read(
        "runs that wait for their destination", connection => connection
        .Query<(long RunId, string Folder, long Wanted)>(
                "SELECT id, waits_in, room_wanted FROM run WHERE state = 'stopped' AND waits_in IS NOT NULL")
            .Select(row => (row.RunId, new DestinationWait(row.Folder, row.Wanted)))
            .ToList());

    /// <summary>Continues a stopped run; false for any other.</summary>
    internal bool Continue(long runId) => database.Change(connection =>
    {
        AnnounceWork(connection);
        return connection.Execute(
            "UPDATE run SET state = 'running', stop_reason = NULL, waits_in = NULL WHERE id = @runId AND state = 'stopped'",
            new { runId }) > 0;
    });

    /// <summary>Skips the waiting items of a stopped run; false for any other.</summary>
    internal bool GiveUp(long runId) => database.Change(connection => connection.Execute(
        "UPDATE run_item SET state = 'skipped', failure = 'Given up.' WHERE run_id = @runId AND state = 'waiting' AND EXISTS (SELECT 1 "
            + "FROM run WHERE id = @runId AND state = 'stopped')",
        new { runId }) > 0);

    /// <summary>Swaps a run with its neighbour in the queue.</summary>
    internal void Move(long runId, bool isEarlier) => database.Change(connection =>
    {
        AnnounceWork(connection);
        var order = connection.Query<(long Id, long Turn)>("SELECT id, turn FROM run WHERE state <> 'done' ORDER BY turn").AsList();
        int at = order.FindIndex(run => run.Id == runId), other = isEarlier ? at - 1 : at + 1;
        if (at < 0 || other < 0 || other >= order.Count)
            return;
        connection.Execute(
            "UPDATE run SET turn = @Turn WHERE id = @Id",
            new[]
            {
                order[at] with { Turn = order[other].Turn }, order[other] with { Turn = order[at].Turn }
            }.Select(run => new { run.Id, run.Turn }));
    });

    /// <summary>The items of a long run that matter most: those under way, those that failed, and the latest of the rest.</summary>
    public IReadOnlyList<RunItemRow> LatestItems(long runId, int most)
    {
        using var connection = database.Open();
        return connection.Query<RunItemRow>(
            $"""
            SELECT {ItemColumns} FROM run_item WHERE id IN (
                SELECT id FROM (SELECT id FROM run_item WHERE run_id = @runId AND state = 'working' ORDER BY position LIMIT @most)
                UNION ALL SELECT id FROM (SELECT id FROM run_item WHERE run_id = @runId AND state = 'failed' ORDER BY position DESC
                    LIMIT @most)
                UNION ALL SELECT id FROM (SELECT id FROM run_item WHERE run_id = @runId AND state = 'done' AND is_result
                    ORDER BY position DESC LIMIT @most))
            ORDER BY state <> 'working', state <> 'failed', position DESC
            """,
            new { runId, most }).AsList();
    }

    /// <summary>
    /// Lets failed items of a run wait again, with all that has to be repeated before and after them, and continues the run; false if none
    /// has failed.
    /// </summary>
    /// <param name="itemId">Null for all of them.</param>
    /// <param name="hasResult">False for a finished item whose result is gone.</param>
    internal bool Retry(long runId, long? itemId, Func<RunItemRow, bool> hasResult) => database.Change(connection =>
    {
        // Checked within the change: another request may just have continued the same items.
        if (LetWait(connection, Graph(connection, runId, hasResult).ToRetry(itemId)) == 0)
            return false;
        connection.Execute("UPDATE run SET state = 'running', stop_reason = NULL, ended_at = NULL WHERE id = @runId", new { runId });
        AnnounceWork(connection);
        return true;
    });

    private RunGraph Graph(IDbConnection connection, long runId, Func<RunItemRow, bool> hasResult)
    {
        var states = connection.Query<(long Id, string State)>("SELECT id, state FROM run_item WHERE run_id = @runId", new { runId })
            .ToDictionary(item => item.Id, item => Enum.Parse<ItemState>(item.State, ignoreCase: true));
        var waits = connection.Query<(long ItemId, long OnItemId, string Reason)>(
            "SELECT w.item_id, w.on_item_id, w.reason FROM run_item_wait w JOIN run_item i ON i.id = w.item_id WHERE i.run_id = @runId",
            new { runId })
            .Select(wait => new ItemWait(wait.ItemId, wait.OnItemId, Enum.Parse<WaitReason>(wait.Reason, ignoreCase: true))).ToList();
        return new RunGraph(states, waits, id => Item(id) is { } item && hasResult(item));
    }

    private static int LetWait(IDbConnection connection, IEnumerable<long> items) => connection.Execute(
        "UPDATE run_item SET state = 'waiting', checkpoint = NULL, result = NULL, failure = NULL WHERE id IN (SELECT value "
            + "FROM json_each(@list))",
        new { list = $"[{string.Join(',', items)}]" });

    /// <summary>Raises <see cref="WorkAdded"/> once the change is committed.</summary>
    private void AnnounceWork(IDbConnection connection) => Database.AfterCommit(connection, () => WorkAdded?.Invoke());

    private static void AddActiveTime(IDbConnection connection, long runId, TimeSpan active)
    {
        if (active > TimeSpan.Zero)
            connection.Execute(
                "UPDATE run SET active_ms = active_ms + @ms WHERE id = @runId", new { runId, ms = (long)active.TotalMilliseconds });
    }

    /// <summary>Closes a run whose items have all ended; false while some have not.</summary>
    internal bool CloseIfEnded(long runId)
    {
        const string HasOpen = $"EXISTS (SELECT 1 FROM run_item WHERE run_id = @runId AND state IN {Open})";
        // Checked without the writers' lock first: usually some items are left.
        using (var reading = database.Open())
        {
            if (reading.ExecuteScalar<bool>("SELECT " + HasOpen, new { runId }))
                return false;
        }

        return database.Change(connection => connection.Execute(
            $"UPDATE run SET state = 'done', ended_at = @now WHERE id = @runId AND state <> 'done' AND NOT {HasOpen}",
            new { runId, now = Now() }) > 0);
    }

    private static long? FindNext(IDbConnection connection, IReadOnlyCollection<string> fullLanes) => connection.QueryFirstOrDefault<long?>(
        """
        SELECT i.id FROM run r CROSS JOIN run_item i ON i.run_id = r.id
        WHERE r.state = 'running' AND i.state = 'waiting' AND i.lane NOT IN (SELECT value FROM json_each(@full))
            AND NOT EXISTS (SELECT 1 FROM run_item_wait w JOIN run_item p ON p.id = w.on_item_id
                WHERE w.item_id = i.id AND (p.state IN ('waiting', 'working') OR (w.reason = 'success' AND p.state = 'failed')))
            -- What writes to a file waits for what reads it, and the other way round.
            AND NOT EXISTS (SELECT 1 FROM run_item_copy mine JOIN run_item_copy theirs ON theirs.copy_id = mine.copy_id
                JOIN run_item o ON o.id = theirs.item_id
                WHERE mine.item_id = i.id AND o.id <> i.id AND o.state = 'working' AND 'files' IN (i.lane, o.lane))
        ORDER BY r.turn, i.position, i.id LIMIT 1
        """,
        new { full = System.Text.Json.JsonSerializer.Serialize(fullLanes) });

    private static void FailWaiting(IDbConnection connection, long itemId, string reason) => connection.Execute(
        """
        WITH RECURSIVE failing (id) AS (
            SELECT item_id FROM run_item_wait WHERE on_item_id = @itemId AND reason = 'success'
            UNION SELECT w.item_id FROM failing f JOIN run_item_wait w ON w.on_item_id = f.id AND w.reason = 'success')
        UPDATE run_item SET state = 'failed', failure = @reason WHERE state = 'waiting' AND id IN (SELECT id FROM failing)
        """,
        new { itemId, reason });

    private long Now() => time.GetUtcNow().ToUnixTimeMilliseconds();
}
