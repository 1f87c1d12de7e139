using System.Data;
using System.Text.Json;
using Dapper;
using Wergamon.App.Copies;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.Core.Audio;
using Wergamon.Core.Discs;
using Wergamon.Core.Formats;
using Wergamon.Core.Naming;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;

namespace Wergamon.App.Intake;

/// <summary>
/// Rips in the database. A rip is a run: its tracks are read in the lane of the drive, each copy waits for its tracks, and the
/// report waits for everything.
/// </summary>
public sealed class RipStore(Database database, RunStore runs, DiscStore discs, TargetChoices targets, AppOptions options)
{
    public static readonly RunKind RunKind = new("rip", Station.Intake, "Ripping", "read back") { MakesCopies = true };

    /// <summary>In place of a track number: the whole disc.</summary>
    public const int WholeDisc = -1;

    /// <summary>Reading takes nearly all the time of a rip; copies are made in parallel.</summary>
    private const double ReadingShare = 0.95;

    private const string Columns = "run_id, disc_id, drive, settings";

    /// <summary>The targets that a disc can be ripped to.</summary>
    public IReadOnlyList<Target> Targets() => [.. targets.All(), StandardTargets.WholeDisc];

    /// <summary>Makes a run for the chosen tracks and targets; returns its ID.</summary>
    public long Create(InsertedDisc inserted, IReadOnlyList<int> tracks, RipSettings settings)
    {
        var chosen = Targets().Where(target => settings.Targets.Contains(target.Key)).Select(settings.Named).ToList();
        bool hasWhole = chosen.Exists(target => target.Key == StandardTargets.WholeDisc.Key);
        // A file of the whole disc has everything, including the positions of the pauses.
        var pauses = hasWhole ? Pauses.WithTrackBefore : settings.Pauses;
        var all = TrackSpan.Of(inserted.Contents, pauses);
        var spans = all.Where(span => tracks.Contains(span.Number)).ToList();
        return Create(inserted, chosen, settings.OutputFolder, settings with { Pauses = pauses }, rip =>
        {
            foreach (var span in hasWhole ? all : spans)
                rip.AddTrack(new RipTrackSpec(span.Number, span.FirstSector, span.EndSector), span);
            foreach (var span in spans)
            {
                foreach (var target in chosen.Where(target => target.Key != StandardTargets.WholeDisc.Key))
                    rip.AddCopy(span.Number, target, RipJobs.FactsOf(span), span.Duration);
            }

            if (hasWhole)
            {
                var whole = new TrackSpan(0, all[0].FirstSector, all[^1].EndSector);
                rip.AddCopy(WholeDisc, settings.Named(StandardTargets.WholeDisc), RipJobs.FactsOf(whole), whole.Duration);
            }
        });
    }

    /// <summary>Makes a run for titles of a surround disc; returns its ID.</summary>
    public long CreateSurround(InsertedDisc inserted, IReadOnlyList<int> titles, SurroundChoice choice, RipSettings settings)
    {
        var chosen = new List<Target>();
        if (choice.MakesStereo)
            chosen.Add(settings.Named(StandardTargets.StereoDownmix));
        if (choice.MakesAllChannels)
            chosen.Add(settings.Named(StandardTargets.AllChannels));
        return Create(inserted, chosen, choice.OutputFolder, new RipSettings(), rip =>
        {
            foreach (var (title, span) in inserted.Disc.Titles.Zip(inserted.Spans(Pauses.LeftOut))
                .Where(pair => titles.Contains(pair.First.Number)))
            {
                var source = new SurroundSource(title, choice);
                rip.AddTrack(new RipTrackSpec(span.Number, span.FirstSector, span.EndSector, source), span);
                foreach (var target in chosen)
                    rip.AddCopy(title.Number, target, source.Facts, span.Duration);
            }
        });
    }

    public RipRow? Get(long runId)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<RipRow>($"SELECT {Columns} FROM rip WHERE run_id = @runId", new { runId });
    }

    /// <summary>The newest rip of a disc in a drive.</summary>
    public long? Latest(string letter, long discId)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<long?>(
            "SELECT run_id FROM rip WHERE drive = @letter AND disc_id = @discId ORDER BY run_id DESC LIMIT 1", new { letter, discId });
    }

    /// <summary>All rips of a disc, the oldest first.</summary>
    public IReadOnlyList<RipRow> Of(long discId)
    {
        using var connection = database.Open();
        return connection.Query<RipRow>($"SELECT {Columns} FROM rip WHERE disc_id = @discId ORDER BY run_id", new { discId }).AsList();
    }

    /// <summary>Whether an active rip still has tracks to read in a drive.</summary>
    public bool IsBusy(string letter)
    {
        using var connection = database.Open();
        return connection.ExecuteScalar<bool>(
            """
            SELECT EXISTS (SELECT 1 FROM rip p JOIN run r ON r.id = p.run_id JOIN run_item i ON i.run_id = r.id
                WHERE p.drive = @letter AND r.state = 'running' AND i.kind = @kind AND i.state IN ('waiting', 'working'))
            """,
            new { letter, kind = RipTrackHandler.ItemKind.Name });
    }

    /// <summary>The tracks that a run reads; none for a run that is no rip.</summary>
    public IReadOnlyList<RipTrackRow> Tracks(long runId) =>
        [.. runs.Items(runId).Where(RipTrackHandler.ItemKind.Is).Select(item => new RipTrackRow(item)).OrderBy(track => track.Number)];

    /// <summary>Tracks of a rip that were read and are not proved: doubtful, read once, or different the second time.</summary>
    public int CountUnproved(long runId) => Tracks(runId).Count(track => track.Reading is { IsProved: false });

    /// <summary>Tracks whose audio is still in the spool because copies of them are missing.</summary>
    public IReadOnlyList<RipTrackRow> InSpool()
    {
        using var connection = database.Open();
        var ids = connection.Query<long>(
            """
            SELECT DISTINCT t.id FROM run_item t JOIN run_item_wait w ON w.on_item_id = t.id AND w.reason = 'success'
                JOIN run_item c ON c.id = w.item_id
            WHERE t.kind = @kind AND t.state = 'done' AND c.state IN ('waiting', 'working', 'failed') ORDER BY t.id
            """,
            new { kind = RipTrackHandler.ItemKind.Name }).AsList();
        return [.. ids.Select(id => new RipTrackRow(runs.Item(id)!))];
    }

    /// <summary>Updates the titles of pending runs and items to the current names of the disc.</summary>
    public void Retitle(long discId)
    {
        var disc = discs.Get(discId)!;
        database.Change(connection =>
        {
            foreach (long runId in connection.Query<long>("SELECT run_id FROM rip WHERE disc_id = @discId", new { discId }).AsList())
            {
                connection.Execute("UPDATE run SET title = @title WHERE id = @runId", new { runId, title = RipJobs.TitleOf(disc) });
                var waiting = connection.Query<(long Id, string Spec)>(
                    "SELECT id, spec FROM run_item WHERE run_id = @runId AND kind = @kind AND state = 'waiting'",
                    new { runId, kind = RipCopyHandler.ItemKind.Name }).AsList();
                foreach (var (id, spec) in waiting)
                {
                    int number = JsonSerializer.Deserialize(spec, CopiesJson.Default.CopySpec)!.DiscTrack!.Value;
                    connection.Execute(
                        "UPDATE run_item SET title = @title WHERE id = @id",
                        new { id, title = RipJobs.TagsOf(disc, number).First(FieldNames.Title) });
                }
            }
        });
    }

    private long Create(InsertedDisc inserted, List<Target> chosen, string? folder, RipSettings settings, Action<NewRip> add)
    {
        var disc = discs.Get(inserted.DiscId)!;
        var outputFolder = folder ?? options.Folders.Ripped;
        return database.Change(connection =>
        {
            long runId = runs.Insert(
                connection,
                new NewRun(RunKind, RipJobs.TitleOf(disc), string.Join(" and ", chosen.Select(target => target.Name)), outputFolder));
            connection.Execute(
                "INSERT INTO rip (run_id, disc_id, drive, settings) VALUES (@runId, @Id, @Letter, @settings)",
                new { runId, disc.Id, inserted.Letter, settings = JsonSerializer.Serialize(settings, IntakeJson.Default.RipSettings) });
            var rip = new NewRip(connection, runId, disc, inserted.Letter, outputFolder, chosen.Count);
            add(rip);
            rip.AddReport();
            return runId;
        });
    }

    /// <summary>The items of a rip that is being made.</summary>
    private sealed class NewRip(IDbConnection connection, long runId, DiscRow disc, string letter, string outputFolder, int targets)
    {
        private readonly Dictionary<int, long> _tracks = [];
        private readonly List<long> _copies = [];

        public void AddTrack(RipTrackSpec spec, TrackSpan span) => _tracks[spec.Number] = RunStore.InsertItem(
            connection, runId, _tracks.Count,
            RipTrackHandler.ItemKind.New(
                Lane.Drive(letter), $"Track {spec.Number}", (long)(span.Duration.TotalMilliseconds * ReadingShare),
                spec) with
            { IsResult = false });

        public void AddCopy(int number, Target target, AudioFacts facts, TimeSpan duration)
        {
            var route = RoutePlanner.Plan(facts, Fidelity.Exact, target);
            var tags = RipJobs.TagsOf(disc, number);
            var folder = targets > 1 ? SafeFileName.From(target.Name) : "";
            var spec = new CopySpec
            {
                DiscTrack = number,
                Target = target,
                OutputFolder = outputFolder,
                TargetFolder = folder,
                RelativePath = RipJobs.PathFor(tags, target, folder, target.Format.Extension),
                OnConflict = target.OnConflict,
                Steps = string.Join(", ", route.Steps.Select(step => step.Label)),
                Fidelity = route.ResultFidelity,
                Generation = route.AddedGenerations,
                BytesBefore = facts.FrameCount * facts.Format.BytesPerFrame,
            };
            long weight = (long)(duration.TotalMilliseconds * (1 - ReadingShare) / targets);
            long id = RunStore.InsertItem(
                connection, runId, _copies.Count,
                RipCopyHandler.ItemKind.New(Lane.Worker, tags.First(FieldNames.Title) ?? $"Track {number}", weight, spec));
            // A track that shares the gain of others needs their measurements.
            bool isLevelled = target.Level is { NeedsMeasuring: true, AlbumAsOne: true };
            foreach (var (track, item) in _tracks.Where(read => read.Key == number || number == WholeDisc || isLevelled))
                RunStore.InsertWait(connection, id, item, number == WholeDisc || track == number ? WaitReason.Success : WaitReason.End);
            _copies.Add(id);
        }

        public void AddReport()
        {
            long id = RunStore.InsertItem(
                connection, runId, _copies.Count,
                RipReportHandler.ItemKind.New(Lane.Files, "Report", 0, new RipReportSpec([runId])) with { IsResult = false });
            foreach (long item in _tracks.Values.Concat(_copies))
                RunStore.InsertWait(connection, id, item, WaitReason.End);
        }
    }
}
