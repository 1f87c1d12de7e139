using System.Data;
using System.Text.Json;
using Dapper;
using Wergamon.App.Copies;
using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.Core.Planning;
using Wergamon.Core.Sync;

namespace Wergamon.App.Convert;

/// <summary>Keeps plans as mirrors, compares these with the library, and brings them up to date.</summary>
public sealed class Mirrors(Database database, MirrorStore store, Plans plans, LibraryParts parts, RunStore runs, TimeProvider time)
{
    /// <summary>The runs that bring mirrors up to date.</summary>
    public static readonly RunKind RunKind = new("mirror", Station.Convert, "Updating", "updated") { MakesCopies = true };

    private readonly PlanMemory _memory = new();

    /// <summary>
    /// Keeps a plan as a mirror, or changes the mirror that the plan was made of; the plan is removed. Gives the reason, for the person,
    /// when it cannot be kept.
    /// </summary>
    public (long? Id, string? Refusal) Keep(long planId)
    {
        if (plans.View(planId) is not { } plan)
            return (null, "This plan no longer exists.");
        if (plan.Lines.Any(line => line.File is not null))
            return (null, "Uploaded files are not in the library, so there is nothing to mirror.");
        if (plan.Lines.Any(line => line.IsCutOrJoined))
            return (null, "A plan with parts of files or joined tracks cannot be kept as a mirror.");
        if (plan.Target.Place == OutputLocation.BesideSource)
            return (null, "A mirror needs its own folder. Choose a place other than beside the sources.");
        return (database.Change(connection =>
        {
            var part = plan.Plan.Part is { } known
                ? LibraryPart.Read(known)
                : LibraryPart.OfTracks([.. plan.Lines.Select(line => line.Track!.Id)]);
            var row = new
            {
                plan.Plan.MirrorId,
                plan.Plan.Title,
                part = part.ToJson(),
                target = Plans.ToJson(plan.Target),
                plan.OutputFolder,
                now = time.GetUtcNow().ToUnixTimeMilliseconds()
            };
            long id = plan.Plan.MirrorId is { } changed
                && connection.Execute(
                    "UPDATE mirror SET part = @part, target = @target, output_folder = @OutputFolder WHERE id = @MirrorId", row) > 0
                ? changed
                : connection.ExecuteScalar<long>(
                    "INSERT INTO mirror (title, part, target, output_folder, created_at) "
                        + "VALUES (@Title, @part, @target, @OutputFolder, @now) RETURNING id",
                    row);
            connection.Execute("DELETE FROM mirror_choice WHERE mirror_id = @id", new { id });
            connection.Execute(
                """
                INSERT OR IGNORE INTO mirror_choice (mirror_id, track_id, is_left_out, stream, exception)
                SELECT @id, track_id, is_left_out, stream, exception FROM plan_item WHERE plan_id = @planId
                    AND (is_left_out OR stream IS NOT NULL OR exception IS NOT NULL)
                """,
                new { id, planId });
            connection.Execute("DELETE FROM plan WHERE id = @planId", new { planId });
            return id;
        }), null);
    }

    /// <summary>A plan in which the mirror can be changed; null when there is no such mirror.</summary>
    public long? Edit(long id)
    {
        if (store.Get(id) is not { } mirror)
            return null;
        var tracks = parts.IdsOf(mirror.ReadPart());
        return database.Change(connection =>
        {
            long plan = connection.ExecuteScalar<long>(
                "INSERT INTO plan (title, target, output_folder, created_at, part, mirror_id) "
                    + "VALUES (@Title, @Target, @OutputFolder, @now, @Part, @Id) RETURNING id",
                new
                {
                    mirror.Title,
                    mirror.Target,
                    mirror.OutputFolder,
                    now = time.GetUtcNow().ToUnixTimeMilliseconds(),
                    mirror.Part,
                    mirror.Id
                });
            connection.Execute(
                """
                INSERT INTO plan_item (plan_id, position, track_id, is_left_out, stream, exception)
                SELECT @plan, @position, t.id, COALESCE(c.is_left_out, 0), c.stream, c.exception FROM track t LEFT
                    JOIN mirror_choice c ON c.track_id = t.id AND c.mirror_id = @id WHERE t.id = @trackId
                """,
                tracks.Select((trackId, position) => new { plan, position, trackId, id }));
            return plan;
        });
    }

    /// <summary>A mirror beside the library and the disk. Nothing is written; see <see cref="Reconcile"/>.</summary>
    public MirrorView? View(long id)
    {
        if (store.Get(id) is not { } mirror)
            return null;
        var tracks = parts.TracksOf(mirror.ReadPart());
        using var connection = database.Open();
        var target = mirror.ReadTarget() is var kept && kept.OnConflict == ConflictRule.Replace
            ? kept
            : kept with { OnConflict = ConflictRule.KeepBoth };
        target = target with { Sources = SourceDisposition.Stay };
        var made = MirrorStore.Files(connection, id).Select(entry => entry.ToWritten()).ToDictionary(file => file.Key);
        var own = made.Values.Select(file => file.Path).ToHashSet(StringComparer.Ordinal);
        var choices = connection.Query<MirrorChoice>(
            "SELECT track_id, is_left_out, stream, exception FROM mirror_choice WHERE mirror_id = @id",
            new { id }).ToDictionary(choice => choice.TrackId);
        var missing = new List<WantedFile>();
        var lines = new List<PlanLine>(tracks.Count);
        foreach (var track in tracks)
        {
            var choice = choices.GetValueOrDefault(track.Id);
            // A mirror is no source of itself.
            if (track.Master.IsMissing || own.Contains(track.Master.Path))
            {
                if (made.TryGetValue(SyncKey.OfTrack(track.Id), out var file))
                    missing.Add(new WantedFile(file.Key, file.Path, null, file.Tags));
            }
            else if (choice is not { IsLeftOut: true })
            {
                lines.Add(
                    new PlanLine(lines.Count, track, null) { Stream = choice?.Stream, Exception = Plans.ReadException(choice?.Exception) });
            }
        }

        var planned = Planner.WithFreeNames(
            _memory.PlanAlone(connection, id, target, mirror.OutputFolder, lines),
            path => own.Contains(path) ? null : Plans.ModifiedAt(path));
        var byTrack = lines.Zip(planned)
            .ToDictionary(pair => SyncKey.OfTrack(pair.First.Track!.Id), pair => pair.First with { Planned = pair.Second });
        var there = own.Where(PlainFile.Exists).ToDictionary(path => path, _ => default(SyncStamp));
        var plan = FolderComparison.Compare(
            [.. FilesOf(connection, lines, planned), .. missing.OrderBy(file => file.Path, StringComparer.Ordinal)], made, there,
            playsInOrderOfWriting: false);
        return new MirrorView(
            mirror, target, [.. plan.Steps.Select(step => new MirrorLine(step, byTrack.GetValueOrDefault(step.Key)))],
            IsAway: made.Count > 0 && there.Count == 0, FreeSpace.At(mirror.OutputFolder),
            mirror.RunId is { } run && runs.Get(run) is { State: not RunState.Done } ? run : null)
        {
            Vanished = plan.Vanished,
        };
    }

    /// <summary>Keeps what a look at a mirror has found.</summary>
    public MirrorView? Reconcile(long id)
    {
        if (View(id) is not { } view)
            return null;
        if (!view.HasFindings)
            return view;
        database.Change(connection =>
        {
            foreach (var file in view.Analysed)
                MirrorStore.Save(connection, id, MirrorEntry.From(file));
            foreach (var file in view.IsAway ? [] : view.Vanished)
                MirrorStore.Forget(connection, id, file.Key.TrackId!.Value, file.Path);
        });
        return view;
    }

    /// <summary>Starts the run that brings a mirror up to date; null when there is nothing to do, or it cannot be done now.</summary>
    /// <param name="remakesAll">True to make all files again although none of them exists.</param>
    public long? Update(long id, bool remakesAll = false)
    {
        if (Reconcile(id) is not { HasRoom: true, RunId: null, ToDo.Count: > 0 } view || view.IsAway && !remakesAll)
            return null;
        long run = database.Change(connection =>
        {
            long runId = runs.Insert(connection, new NewRun(RunKind, view.Mirror.Title, view.Target.Name, view.Mirror.OutputFolder));
            MirrorItems.Insert(connection, runId, view);
            connection.Execute("UPDATE mirror SET run_id = @runId WHERE id = @id", new { runId, id });
            return runId;
        });
        return run;
    }

    private static List<WantedFile> FilesOf(IDbConnection connection, List<PlanLine> lines, IReadOnlyList<PlanItem> planned)
    {
        var copies = "[" + string.Join(',', lines.Select(line => line.Track!.Master.Id)) + "]";
        var (digests, sums) = (CopySums.Digests(connection, copies), CopySums.TagSums(connection, copies));
        return
        [
            .. lines.Zip(planned, (line, item) =>
            {
                var master = line.Track!.Master;
                // The digest is that of the default stream only.
                var digest = line.Stream is null ? digests.GetValueOrDefault(master.Id) : null;
                var recipe = JsonSerializer.Serialize(SoundChoice.Of(item.Target), ConvertJson.Default.SoundChoice) + line.Stream;
                var tags = $"{sums.GetValueOrDefault(master.Id)} {item.Target.Artwork} {item.Target.Id3v2Version}";
                return new WantedFile(
                    SyncKey.OfTrack(line.Track.Id), Path.Combine(item.Folder, item.RelativePath),
                    new SourceSound(digest, master.FileBytes, master.ModifiedAt, recipe), tags);
            }),
        ];
    }
}
