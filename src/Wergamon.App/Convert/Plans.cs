using System.Data;
using System.Text.Json;
using Dapper;
using Wergamon.App.Copies;
using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.App.Workers;
using Wergamon.Core.Naming;
using Wergamon.Core.Planning;

namespace Wergamon.App.Convert;

/// <summary>Plans: which tracks, for which target, into which folder. Everything else is computed on request.</summary>
public sealed class Plans(
    Database database, LibraryQueries library, TargetChoices targets, RunStore runs, AllowedPaths allowed, WorkLoad load,
    AppOptions options, TimeProvider time)
{
    /// <summary>The runs that plans become.</summary>
    public static readonly RunKind RunKind = new("convert", Station.Convert, "Converting", "proved") { Noun = "track", MakesCopies = true };

    private const int MaxListed = 100;

    private readonly PlanMemory _memory = new();

    /// <param name="part">The part of the library that the tracks are; null for individual tracks.</param>
    public long Create(string title, string targetKey, IReadOnlyList<long> trackIds, LibraryPart? part = null)
    {
        return database.Change(connection =>
        {
            long id = Insert(connection, title, targets.Get(targetKey), part);
            connection.Execute(
                "INSERT INTO plan_item (plan_id, position, track_id) SELECT @id, @position, id FROM track WHERE id = @trackId",
                trackIds.Select((trackId, position) => new { id, position, trackId }));
            return id;
        });
    }

    /// <summary>A plan of files that are not in the library.</summary>
    /// <param name="isExcluded">True if their copies are excluded from it too, unless the person wants them in.</param>
    public long Create(
        string title, string targetKey, IReadOnlyList<PlanFile> files, bool isExcluded) => database.Change(connection =>
    {
        var target = targets.Get(targetKey);
        long id = Insert(connection, title, target with { ExcludedFromLibrary = isExcluded || target.ExcludedFromLibrary });
        connection.Execute(
            "INSERT INTO plan_item (plan_id, position, file) VALUES (@id, @position, @file)",
            files.Select((file, position) => new { id, position, file = JsonSerializer.Serialize(file, ConvertJson.Default.PlanFile) }));
        return id;
    });

    /// <summary>Plans without a run.</summary>
    public IReadOnlyList<PlanRow> List()
    {
        using var connection = database.Open();
        return connection.Query<PlanRow>(
            $"""
            SELECT id, title, target, output_folder, created_at, run_id, (SELECT COUNT(*) FROM plan_item WHERE plan_id = plan.id) AS tracks
            FROM plan WHERE run_id IS NULL ORDER BY id DESC LIMIT {MaxListed}
            """).AsList();
    }

    public int CountOpen() =>
        database.Read("open plans", connection => connection.ExecuteScalar<int>("SELECT COUNT(*) FROM plan WHERE run_id IS NULL"));

    public void Delete(long id) => Change("DELETE FROM plan WHERE id = @id", new { id });

    /// <summary>Changes the plan's target to another one.</summary>
    public void SetTarget(long id, string? targetKey)
    {
        var target = targets.Get(targetKey);
        SetTarget(
            id, HasFiles(id) && View(id) is { } plan ? target with { ExcludedFromLibrary = plan.Target.ExcludedFromLibrary } : target);
    }

    /// <summary>Changes the target of the plan. It is the default for later plans, too.</summary>
    public void SetTarget(long id, Target target)
    {
        Change("UPDATE plan SET target = @target WHERE id = @id AND run_id IS NULL", new { id, target = ToJson(target) });
        // Whether the library lists copies of uploaded files is decided for each plan.
        targets.Save(HasFiles(id) ? target with { ExcludedFromLibrary = targets.Get(target.Key).ExcludedFromLibrary } : target);
    }

    private bool HasFiles(long id)
    {
        using var connection = database.Open();
        return connection.ExecuteScalar<bool>(
            "SELECT EXISTS (SELECT 1 FROM plan_item WHERE plan_id = @id AND file IS NOT NULL)", new { id });
    }

    /// <summary>Sets where the copies go; gives the reason, for the person, when they cannot go there.</summary>
    public string? SetOutputFolder(long id, string? typed)
    {
        var check = allowed.CheckOutputFolder(typed);
        if (check.Path is null)
            return check.Refusal;
        Change("UPDATE plan SET output_folder = @Path WHERE id = @id", new { id, check.Path });
        return null;
    }

    /// <summary>
    /// Sets how the copies are named, from now on for this target; gives the reason, for the person, when it is no pattern.
    /// </summary>
    /// <param name="typed">Empty for the usual way.</param>
    public string? SetNames(long id, string? typed)
    {
        var (names, problem) = TrackPath.ReadTyped(typed);
        if (problem is null && View(id) is { } plan)
            SetTarget(id, plan.Target with { Names = names });
        return problem;
    }

    /// <summary>Positions from 0; those that the plan does not have are skipped.</summary>
    public void SetLeftOut(long id, IReadOnlyCollection<int> positions, bool isLeftOut) =>
        Change(
            "UPDATE plan_item SET is_left_out = @isLeftOut WHERE plan_id = @id AND position IN (SELECT value FROM json_each(@list))",
            new { id, isLeftOut, list = ListOf(positions) });

    /// <summary>Chooses another audio stream of a file that has several.</summary>
    /// <param name="stream">From 0; null for the default one.</param>
    public void SetStream(long id, int position, int? stream) =>
        Change("UPDATE plan_item SET stream = @stream WHERE plan_id = @id AND position = @position", new { id, position, stream });

    /// <summary>Changes how some tracks deviate from the target.</summary>
    /// <param name="change">Gets the present exception of each, an empty one for none.</param>
    public void SetException(
        long id, IReadOnlyCollection<int> positions, Func<TrackException, TrackException> change) => database.Change(connection =>
    {
        var rows = connection.Query<(int Position, string? Exception)>(
            "SELECT position, exception FROM plan_item WHERE plan_id = @id AND position IN (SELECT value FROM json_each(@list))",
            new { id, list = ListOf(positions) }).AsList();
        foreach (var (position, text) in rows)
        {
            var changed = change(ReadException(text) ?? new TrackException());
            connection.Execute(
                "UPDATE plan_item SET exception = @exception WHERE plan_id = @id AND position = @position",
                new { id, position, exception = ToJson(changed) });
        }
    });

    /// <summary>
    /// Starts the run of a plan, once: asking again returns the same run. Null when nothing of the plan can be converted now, or when it
    /// would lose something that the person has not agreed to.
    /// </summary>
    /// <param name="agreedLoss">The <see cref="PlanView.Loss"/> that the person was shown and agreed to; null for none.</param>
    public long? Start(long id, string? agreedLoss = null)
    {
        if (View(id) is not { } plan)
            return null;
        if (plan.Plan.RunId is { } known)
            return known;
        if (plan is not { Count: > 0, HasRoom: true } || plan.Loss is { } loss && loss != agreedLoss)
            return null;
        return database.Change(connection =>
        {
            if (connection.QuerySingleOrDefault<long?>("SELECT run_id FROM plan WHERE id = @id", new { id }) is { } made)
                return made;
            long runId = runs.Insert(connection, new NewRun(RunKind, plan.Plan.Title, plan.Target.Name, plan.OutputFolder));
            PlanItems.Insert(connection, runId, plan);
            connection.Execute("UPDATE plan SET run_id = @runId, agreed_loss = @Loss WHERE id = @id", new { id, runId, plan.Loss });
            return runId;
        });
    }

    public PlanView? View(long id)
    {
        using var connection = database.Open();
        var plan = connection.QueryFirstOrDefault<PlanRow>(
            "SELECT id, title, target, output_folder, created_at, part, mirror_id, run_id FROM plan WHERE id = @id", new { id });
        if (plan is null)
            return null;
        var target = plan.ReadTarget();
        var folder = plan.OutputFolder ?? Path.Combine(options.Folders.Converted, SafeFileName.From(target.Name));
        var lines = LinesOf(connection, id);
        // Nobody looks for copies where uploaded files are stored.
        if (target.Place == OutputLocation.BesideSource && lines.Any(line => line.File is not null))
            target = target with { Place = OutputLocation.SourceTree };
        var there = lines.Where(line => line is { IsLeftOut: false, IsMissing: false }).ToList();
        var planned = Planner.WithFreeNames(_memory.PlanAlone(connection, id, target, folder, there), ModifiedAt);
        var pace = Throughput.Known(connection);
        var byPosition = there.Zip(planned).ToDictionary(pair => pair.First.Position, pair => pair.Second);
        return new PlanView(
            plan, target, folder,
            [
                .. lines.Select(
                    line => byPosition.TryGetValue(line.Position, out var item)
                        ? line with { Planned = item, Duration = DurationOf(item, pace) }
                        : line)
            ],
            FreeSpace.At(folder), load.Workers);
    }

    private long Insert(IDbConnection connection, string title, Target target, LibraryPart? part = null) => connection.ExecuteScalar<long>(
        "INSERT INTO plan (title, target, part, created_at) VALUES (@title, @target, @part, @now) RETURNING id",
        new { title, target = ToJson(target), part = part?.ToJson(), now = time.GetUtcNow().ToUnixTimeMilliseconds() });

    private List<PlanLine> LinesOf(IDbConnection connection, long id)
    {
        var items = connection.Query<PlanItemRow>(PlanItemRow.Select + " WHERE plan_id = @id ORDER BY position", new { id }).AsList();
        var pieces = items.ToDictionary(item => item.Position, item => item.ReadAppended());
        var tracks = library.TracksById(
            [
                .. items.Select(item => item.TrackId)
                    .Concat(pieces.Values.SelectMany(each => each).Select(piece => piece.TrackId))
                    .OfType<long>()
                    .Distinct()
            ]).ToDictionary(track => track.Id);
        return
        [
            // A track that is no longer in the library leaves the plan, with the line it was joined to.
            .. items.Where(
                item => IsThere(item.TrackId)
                    && pieces[item.Position].All(piece => IsThere(piece.TrackId))).Select(item => LineOf(item) with
            {
                IsLeftOut = item.IsLeftOut,
                Stream = item.Stream,
                Exception = ReadException(item.Exception),
                Part = item.ReadPart(),
                Appended = [
                    .. pieces[item.Position]
                        .Select(piece => new PlanLine(item.Position, piece.TrackId is { } track ? tracks[track] : null, piece.File))
                ],
            }),
        ];

        bool IsThere(long? track) => track is null || tracks.ContainsKey(track.Value);

        PlanLine LineOf(PlanItemRow item) =>
            new(
                item.Position, item.TrackId is { } track ? tracks[track] : null,
                item.File is null ? null : JsonSerializer.Deserialize(item.File, ConvertJson.Default.PlanFile));
    }

    private static TimeSpan? DurationOf(PlanItem item, Dictionary<string, double> pace) =>
        pace.TryGetValue(ConvertWork.Of(item.Target, item.Route.Steps.Select(step => step.Kind)).Key, out double ratio)
            ? item.Source.Facts.Duration * ratio
            : null;

    internal static long? ModifiedAt(string path) =>
        PlainFile.Look(path) is { IsRegular: true } look ? new DateTimeOffset(look.ModifiedUtc).ToUnixTimeMilliseconds() : null;

    /// <summary>Null for an exception that says nothing.</summary>
    internal static string? ToJson(TrackException exception) =>
        exception.IsEmpty ? null : JsonSerializer.Serialize(exception, ConvertJson.Default.TrackException);

    internal static TrackException? ReadException(string? text) =>
        text is null ? null : JsonSerializer.Deserialize(text, ConvertJson.Default.TrackException);

    private static string ListOf(IEnumerable<int> numbers) => "[" + string.Join(',', numbers) + "]";

    internal static string ToJson(Target target) => JsonSerializer.Serialize(target, PlanningJson.Default.Target);

    private void Change(string sql, object parameters) => database.Change(connection => connection.Execute(sql, parameters));
}
