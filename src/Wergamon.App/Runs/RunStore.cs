using System.Text.Json;
using Dapper;
using Wergamon.App.Convert;
using Wergamon.App.Data;
using Wergamon.App.Library;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;

namespace Wergamon.App.Runs;

/// <summary>Runs and their items in the database. Every change of state is committed before work goes on.</summary>
public sealed class RunStore(Database database, TimeProvider time)
{
    private const string RunSelect =
        """
        SELECT r.id, r.plan_id, r.title, r.target_name, r.output_folder, r.state, r.started_at, r.ended_at, r.active_ms,
            r.kind, r.disc_id, r.drive, r.stop_reason,
            (SELECT COUNT(*) FROM run_item WHERE run_id = r.id) AS tracks,
            (SELECT COUNT(*) FROM run_item WHERE run_id = r.id AND state = 'done') AS done,
            (SELECT COUNT(*) FROM run_item WHERE run_id = r.id AND state = 'failed') AS failed
        FROM run r
        """;

    /// <summary>Turns a plan into a run whose items all wait; gives its number.</summary>
    public long Create(PlanView plan)
    {
        long runId = 0;
        database.Change(connection =>
        {
            runId = connection.ExecuteScalar<long>(
                """
                INSERT INTO run (plan_id, title, target_name, output_folder, state, started_at)
                VALUES (@planId, @Title, @targetName, @OutputFolder, 'running', @now) RETURNING id
                """,
                new { planId = plan.Plan.Id, plan.Plan.Title, targetName = plan.Target.Name, plan.OutputFolder, now = Now() });
            int position = 0;
            foreach (var line in plan.Running)
            {
                var item = line.Planned!;
                var master = line.Track.Master;
                var fromName = LibraryQueries.ReadTags(connection, master.Id, onlyFromName: true);
                connection.Execute(
                    """
                    INSERT INTO run_item (run_id, position, track_id, source_copy_id, title, relative_path, if_taken, steps, fidelity, generation,
                        bytes_before, duration_ms, job, state)
                    VALUES (@runId, @position, @trackId, @sourceId, @title, @RelativePath, @ifTaken, @steps, @fidelity, @generation, @bytes, @duration, @job, 'waiting')
                    """,
                    new
                    {
                        runId,
                        position = position++,
                        trackId = line.Track.Id,
                        sourceId = master.Id,
                        title = line.Track.Title,
                        item.RelativePath,
                        ifTaken = plan.Target.IfTaken.ToString(),
                        steps = string.Join(", ", item.Route.Steps.Select(step => step.Label)),
                        fidelity = (int)item.Route.ResultFidelity,
                        generation = master.Generation + item.Route.AddedGenerations,
                        bytes = master.FileBytes,
                        duration = (long)master.Facts.Duration.TotalMilliseconds,
                        job = JsonSerializer.Serialize(JobFor(master, item, plan.Target, fromName), WorkerJson.Default.ConvertJob),
                    });
            }
        });
        return runId;
    }

    public RunRow? Get(long id)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<RunRow>(RunSelect + " WHERE r.id = @id", new { id });
    }

    /// <summary>The newest runs, those under way first.</summary>
    public IReadOnlyList<RunRow> List(int most)
    {
        using var connection = database.Open();
        return connection.Query<RunRow>(RunSelect + " ORDER BY r.state = 'done', r.id DESC LIMIT @most", new { most }).AsList();
    }

    public IReadOnlyList<RunRow> InState(string state)
    {
        using var connection = database.Open();
        return connection.Query<RunRow>(RunSelect + " WHERE r.state = @state ORDER BY r.id", new { state }).AsList();
    }

    public IReadOnlyList<RunItemRow> Items(long runId)
    {
        using var connection = database.Open();
        return connection.Query<RunItemRow>("SELECT * FROM run_item WHERE run_id = @runId ORDER BY position", new { runId }).AsList();
    }

    public IReadOnlyList<RunItemRow> ItemsInState(string state)
    {
        using var connection = database.Open();
        return connection.Query<RunItemRow>("SELECT * FROM run_item WHERE state = @state ORDER BY run_id, position", new { state }).AsList();
    }

    /// <summary>The next item that waits in a run that goes on, marked as being worked on; null when there is none.</summary>
    public RunItemRow? TakeNext()
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<RunItemRow>(
            """
            UPDATE run_item SET state = 'working', failure = NULL WHERE id = (
                SELECT i.id FROM run_item i JOIN run r ON r.id = i.run_id
                WHERE i.state = 'waiting' AND r.state = 'running' ORDER BY i.run_id, i.position LIMIT 1)
            RETURNING *
            """);
    }

    public void SetTemporary(long itemId, string path) => Execute("UPDATE run_item SET temporary_path = @path WHERE id = @itemId", new { itemId, path });

    /// <summary>Writes the proof down and gives the item as it stands then.</summary>
    public RunItemRow SetProved(long itemId, Proof proof)
    {
        using var connection = database.Open();
        return connection.QuerySingle<RunItemRow>(
            "UPDATE run_item SET state = 'proved', proof = @proof WHERE id = @itemId RETURNING *",
            new { itemId, proof = JsonSerializer.Serialize(proof, WorkerJson.Default.Proof) });
    }

    public void SetFinalPath(long itemId, string path) => Execute("UPDATE run_item SET final_path = @path WHERE id = @itemId", new { itemId, path });

    public void SetDone(long itemId, long newCopyId) =>
        Execute("UPDATE run_item SET state = 'done', temporary_path = NULL, new_copy_id = @newCopyId WHERE id = @itemId", new { itemId, newCopyId });

    public void SetFailed(long itemId, string reason) =>
        Execute("UPDATE run_item SET state = 'failed', temporary_path = NULL, final_path = NULL, failure = @reason WHERE id = @itemId", new { itemId, reason });

    public void SetSkipped(long itemId, string reason) =>
        Execute("UPDATE run_item SET state = 'skipped', temporary_path = NULL, final_path = NULL, failure = @reason WHERE id = @itemId", new { itemId, reason });

    public void SetWaiting(long itemId) =>
        Execute("UPDATE run_item SET state = 'waiting', temporary_path = NULL, final_path = NULL WHERE id = @itemId", new { itemId });

    /// <param name="reason">Why it stopped by itself.</param>
    public void SetRunState(long runId, string state, string? reason = null) => Execute(
        "UPDATE run SET state = @state, stop_reason = @reason, ended_at = CASE WHEN @state = 'done' THEN @now ELSE NULL END WHERE id = @runId", new { runId, state, reason, now = Now() });

    /// <summary>Lets the failed items of a run wait again and the run go on. What was read from a disc is kept until no copy of it is wanting.</summary>
    public void RetryFailed(long runId) => database.Change(connection =>
    {
        connection.Execute("UPDATE run_item SET state = 'waiting', failure = NULL WHERE run_id = @runId AND state = 'failed'", new { runId });
        connection.Execute("UPDATE run SET state = 'running', stop_reason = NULL, ended_at = NULL WHERE id = @runId", new { runId });
    });

    public void AddActiveTime(long runId, TimeSpan time) =>
        Execute("UPDATE run SET active_ms = active_ms + @ms WHERE id = @runId", new { runId, ms = (long)time.TotalMilliseconds });

    /// <summary>Closes a run whose items have all ended; false while some have not.</summary>
    public bool CloseIfEnded(long runId)
    {
        using var connection = database.Open();
        return connection.Execute(
            """
            UPDATE run SET state = 'done', ended_at = @now WHERE id = @runId AND state <> 'done'
                AND NOT EXISTS (SELECT 1 FROM run_item WHERE run_id = @runId AND state IN ('reading', 'waiting', 'working', 'proved'))
            """,
            new { runId, now = Now() }) > 0;
    }

    private static ConvertJob JobFor(CopyRow master, PlanItem item, Target target, Core.Tags.TagSet fromName) => new(
        master.Path,
        master.Facts.Format,
        [.. item.Route.Steps.Where(step => step.Kind != StepKind.Encode).Select(step => new JobStep(step.Kind, step.Output))],
        target.Kind,
        "",
        target.Mp3,
        target.FlacLevel,
        [.. fromName.Fields.Select(field => new JobField(field.Name, field.Values))],
        master.FolderCoverPath is { } cover ? [new JobPicture(Core.Tags.PictureKind.Front, cover)] : []);

    private void Execute(string sql, object parameters)
    {
        using var connection = database.Open();
        connection.Execute(sql, parameters);
    }

    private long Now() => time.GetUtcNow().ToUnixTimeMilliseconds();
}
