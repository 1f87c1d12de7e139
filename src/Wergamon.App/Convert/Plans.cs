using System.Data;
using System.Text.Json;
using Dapper;
using Wergamon.App.Files;
using Wergamon.App.Library;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Jobs;
using Wergamon.Core.Naming;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;

namespace Wergamon.App.Convert;

public sealed record PlanRow
{
    public long Id { get; init; }

    public string Title { get; init; } = "";

    /// <summary>What the plan was made for, as JSON; changing the target elsewhere changes no plan.</summary>
    public string Target { get; init; } = "";

    public string? OutputFolder { get; init; }

    public long CreatedAt { get; init; }

    public int Tracks { get; init; }

    /// <summary>The run started from it; null for an open plan.</summary>
    public long? RunId { get; init; }

    public Target ReadTarget() => JsonSerializer.Deserialize(Target, PlanningJson.Default.Target) ?? throw new InvalidDataException($"Plan {Id} has no target.");
}

/// <summary>One line of a plan as it is shown and run.</summary>
/// <param name="Position">Its place in the plan, from 0.</param>
/// <param name="Stream">Which of several streams of sound in its file is taken, from 0; null for the one that is heard.</param>
/// <param name="Planned">What will happen; null where the track has no copy that is there.</param>
public sealed record PlanLine(int Position, TrackRow Track, bool IsLeftOut, int? Stream, PlanItem? Planned)
{
    public bool WillRun => !IsLeftOut && Planned is { IsSkipped: false };
}

/// <summary>A plan worked out against the library and the disk as they are now.</summary>
public sealed record PlanView(PlanRow Plan, Target Target, string OutputFolder, IReadOnlyList<PlanLine> Lines, long? FreeBytes)
{
    public IEnumerable<PlanLine> Running => Lines.Where(line => line.WillRun);

    public int Count => Running.Count();

    public long BytesNow => Running.Sum(line => line.Planned!.Source.FileBytes);

    public long BytesThen => Running.Sum(line => line.Planned!.Size.Bytes);

    public int TagsTotal => Running.Sum(line => line.Planned!.Source.Contents.Count);

    public int TagsKept => Running.Sum(line => line.Planned!.TagsKept(Target));

    /// <summary>Tracks whose coded sound stays as it is.</summary>
    public int CountCarried => Running.Count(line => line.Planned!.Route.IsCarried);

    public bool IsAllExact => Running.All(line => line.Planned!.Size.Basis == SizeBasis.Exact);

    public bool HasRoom => FreeBytes is not { } free || BytesThen < free;
}

/// <summary>Plans: which tracks, for which target, into which folder. Everything else is computed on request.</summary>
public sealed class Plans(Database database, LibraryQueries library, TargetChoices targets, RunStore runs, AllowedPaths allowed, AppOptions options, TimeProvider time)
{
    private const int MaxListed = 100;

    public long Create(string title, string targetKey, IReadOnlyList<long> trackIds)
    {
        var target = ToJson(targets.Get(targetKey));
        return database.Change(connection =>
        {
            long id = connection.ExecuteScalar<long>(
                "INSERT INTO plan (title, target, created_at) VALUES (@title, @target, @now) RETURNING id",
                new { title, target, now = time.GetUtcNow().ToUnixTimeMilliseconds() });
            connection.Execute(
                "INSERT INTO plan_item (plan_id, position, track_id) SELECT @id, @position, id FROM track WHERE id = @trackId",
                trackIds.Select((trackId, position) => new { id, position, trackId }));
            return id;
        });
    }

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

    public int CountOpen() => database.Read("open plans", connection => connection.ExecuteScalar<int>("SELECT COUNT(*) FROM plan WHERE run_id IS NULL"));

    public void Delete(long id) => Change("DELETE FROM plan WHERE id = @id", new { id });

    /// <summary>Changes the plan's target to another one.</summary>
    public void SetTarget(long id, string? targetKey) => SetTarget(id, targets.Get(targetKey));

    /// <summary>Changes the target of the plan. It is the default for later plans, too.</summary>
    public void SetTarget(long id, Target target)
    {
        Change("UPDATE plan SET target = @target WHERE id = @id AND run_id IS NULL", new { id, target = ToJson(target) });
        targets.Save(target);
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

    /// <summary>Sets how the copies are named, from now on for this target; gives the reason, for the person, when it is no pattern.</summary>
    /// <param name="typed">Empty for the usual way.</param>
    public string? SetNames(long id, string? typed)
    {
        var (names, problem) = TrackPath.ReadTyped(typed);
        if (problem is null && View(id) is { } plan)
            SetTarget(id, plan.Target with { Names = names });
        return problem;
    }

    public void SetLeftOut(long id, int position, bool isLeftOut) =>
        Change("UPDATE plan_item SET is_left_out = @isLeftOut WHERE plan_id = @id AND position = @position", new { id, position, isLeftOut });

    /// <summary>Takes another stream of sound of a file that has several.</summary>
    /// <param name="stream">From 0; null for the one that is heard.</param>
    public void SetStream(long id, int position, int? stream) =>
        Change("UPDATE plan_item SET stream = @stream WHERE plan_id = @id AND position = @position", new { id, position, stream });

    /// <summary>Starts the run of a plan, once: asking again returns the same run. Null when nothing of the plan can be converted now.</summary>
    public long? Start(long id)
    {
        if (View(id) is not { } plan)
            return null;
        if (plan.Plan.RunId is { } known)
            return known;
        if (plan is not { Count: > 0, HasRoom: true })
            return null;
        return database.Change(connection =>
        {
            if (connection.QuerySingleOrDefault<long?>("SELECT run_id FROM plan WHERE id = @id", new { id }) is { } made)
                return made;
            long runId = runs.Insert(connection, new NewRun(ConvertHandler.ItemKind, plan.Plan.Title, plan.Target.Name, plan.OutputFolder));
            int position = 0;
            foreach (var line in plan.Running)
                RunStore.InsertItem(connection, runId, position++, ItemFor(connection, plan, line));
            connection.Execute("UPDATE plan SET run_id = @runId WHERE id = @id", new { id, runId });
            return runId;
        });
    }

    public PlanView? View(long id)
    {
        using var connection = database.Open();
        var plan = connection.QueryFirstOrDefault<PlanRow>("SELECT id, title, target, output_folder, created_at, run_id FROM plan WHERE id = @id", new { id });
        if (plan is null)
            return null;
        var target = plan.ReadTarget();
        var folder = plan.OutputFolder ?? Path.Combine(options.ConvertedFolder, target.Name);
        var items = connection.Query<(int Position, long TrackId, bool IsLeftOut, int? Stream)>(
            "SELECT position, track_id, is_left_out, stream FROM plan_item WHERE plan_id = @id ORDER BY position", new { id }).AsList();
        var tracks = library.TracksById([.. items.Select(item => item.TrackId)]).ToDictionary(track => track.Id);
        var lines = items.Where(item => tracks.ContainsKey(item.TrackId)).Select(item => (item.Position, Track: tracks[item.TrackId], item.IsLeftOut, item.Stream)).ToList();

        var there = lines.Where(line => !line.IsLeftOut && !line.Track.Master.IsMissing).ToList();
        var contents = LibraryQueries.ContentsOf(connection, there.Select(line => line.Track.Master.Id));
        var known = KnownSounds.Of(connection, there.DistinctBy(line => line.Track.Id).ToDictionary(line => line.Track.Master.Id, line => line.Track.AlbumId), target.Level is { NeedsMeasuring: true, AlbumAsOne: true });
        var planned = Planner.Plan(there.Select(line => SourceOf(line.Track, line.Stream, contents[line.Track.Master.Id], known.GetValueOrDefault(line.Track.Master.Id))), target, path => File.Exists(Path.Combine(folder, path)));
        var byPosition = there.Zip(planned).ToDictionary(pair => pair.First.Position, pair => pair.Second);
        return new PlanView(
            plan, target, folder,
            [.. lines.Select(line => new PlanLine(line.Position, line.Track, line.IsLeftOut, line.Stream, byPosition.GetValueOrDefault(line.Position)))],
            FreeSpace.At(folder));
    }

    private static PlanSource SourceOf(TrackRow track, int? stream, TagContents contents, KnownSound? known)
    {
        var master = track.Master;
        var tags = new TagSet();
        foreach (var field in contents.Fields)
            tags.Set(field.Name, field.Values);
        if (tags[FieldNames.Title].Count == 0)
            tags.Set(FieldNames.Title, track.Title);
        if (tags[FieldNames.Album].Count == 0)
            tags.Set(FieldNames.Album, track.AlbumTitle);
        var facts = master.Facts.OfStream(stream);
        var fidelity = stream is null ? master.Fidelity : facts.IsLossless ? Fidelity.Exact : Fidelity.Lossy;
        return new PlanSource(track.Id, facts, fidelity, master.FileBytes, tags, contents, master.TagsFromName) { Known = stream is null ? known : null };
    }

    private static NewItem ItemFor(IDbConnection connection, PlanView plan, PlanLine line)
    {
        var (item, master) = (line.Planned!, line.Track.Master);
        var fromName = LibraryQueries.ReadTags(connection, master.Id, TagOrigin.FileName);
        var spec = new CopySpec
        {
            TrackId = line.Track.Id,
            SourceCopyId = master.Id,
            AlbumId = plan.Target.Level is { AlbumAsOne: true } ? line.Track.AlbumId : null,
            Target = plan.Target,
            OutputFolder = plan.OutputFolder,
            RelativePath = item.RelativePath,
            IfExists = plan.Target.IfExists,
            Steps = item.Route.InWords,
            Fidelity = item.Route.ResultFidelity,
            Generation = master.Generation + item.Route.AddedGenerations,
            BytesBefore = master.FileBytes,
            Job = JobFor(master, item, plan.Target, fromName) with { Sound = line.Stream },
        };
        return new NewItem(ConvertHandler.ItemKind, Lane.Worker, line.Track.Title, (long)item.Source.Facts.Duration.TotalMilliseconds, spec.ToJson()) { CopyIds = [master.Id] };
    }

    private static ConvertJob JobFor(CopyRow master, PlanItem item, Target target, TagSet fromName) => new(
        master.Path,
        item.Source.Facts.Format,
        item.Route.StepsBeforeEncoding(),
        target.Encoder,
        "",
        [.. fromName.Fields.Select(field => new JobField(field.Name, field.Values))],
        master.FolderCoverPath is { } cover ? [new JobPicture(PictureKind.Front, cover)] : [])
    {
        Artwork = target.Artwork,
        Level = target.Level,
    };

    private static string ToJson(Target target) => JsonSerializer.Serialize(target, PlanningJson.Default.Target);

    private void Change(string sql, object parameters) => database.Change(connection => connection.Execute(sql, parameters));
}
