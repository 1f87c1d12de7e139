using System.Data;
using System.Text.Json;
using Dapper;
using Wergamon.App.Convert;
using Wergamon.App.Data;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Reading;
using Wergamon.Core.Planning;

namespace Wergamon.App.Intake;

/// <summary>Rips in the database: a rip is a run whose items wait until their track has been read.</summary>
public sealed class RipStore(Database database, DiscStore discs, RipItems items, Spool spool, TargetChoices targets, AppOptions options, TimeProvider time)
{
    /// <summary>Stands for the whole disc where an item names a track.</summary>
    public const int WholeDisc = -1;

    private const string LostSound = "Sound that was read for copies which failed is lost. Continue to read it again.";

    /// <summary>The targets that a disc can be read to.</summary>
    public IReadOnlyList<Target> Targets() => [.. targets.All(), Target.WholeDisc];

    /// <summary>Turns a choice of tracks and targets into a run; gives its number.</summary>
    public long Create(DiscOnDesk onDesk, IReadOnlyList<int> tracks, RipSettings settings)
    {
        var disc = discs.Get(onDesk.DiscId)!;
        var chosen = Targets().Where(target => settings.Targets.Contains(target.Key)).ToList();
        bool hasWhole = chosen.Contains(Target.WholeDisc);
        // A file of the whole disc holds everything, and where the pauses stand.
        var all = TrackSpan.Of(onDesk.Contents, hasWhole ? Pauses.WithTrackBefore : settings.Pauses);
        var spans = all.Where(span => tracks.Contains(span.Number)).ToList();
        long runId = 0;
        database.Change(connection =>
        {
            runId = InsertRun(
                connection, disc, onDesk.Letter, chosen, settings.OutputFolder, settings with { Pauses = hasWhole ? Pauses.WithTrackBefore : settings.Pauses });
            foreach (var span in hasWhole ? all : spans)
            {
                connection.Execute(
                    "INSERT INTO rip_track (run_id, number, first_sector, end_sector, state) VALUES (@runId, @Number, @FirstSector, @EndSector, 'waiting')",
                    new { runId, span.Number, span.FirstSector, span.EndSector });
            }

            int position = 0;
            foreach (var span in spans)
            {
                foreach (var target in chosen.Where(target => target != Target.WholeDisc))
                    RipItems.Insert(connection, runId, position++, span, span.Number, target, disc, chosen.Count > 1);
            }

            if (hasWhole)
                RipItems.Insert(connection, runId, position, new TrackSpan(0, all[0].FirstSector, all[^1].EndSector), WholeDisc, Target.WholeDisc, disc, chosen.Count > 1);
        });
        return runId;
    }

    /// <summary>Turns titles of a surround disc into a run; gives its number.</summary>
    public long CreateSurround(DiscOnDesk onDesk, IReadOnlyList<int> titles, SurroundChoice choice)
    {
        var disc = discs.Get(onDesk.DiscId)!;
        var chosen = new List<Target>();
        if (choice.MakesStereo)
            chosen.Add(Target.StereoFold);
        if (choice.MakesAllChannels)
            chosen.Add(Target.AllChannels);
        long runId = 0;
        database.Change(connection =>
        {
            runId = InsertRun(connection, disc, onDesk.Letter, chosen, choice.OutputFolder, new RipSettings());
            int position = 0;
            foreach (var (title, span) in onDesk.Disc.Titles.Zip(onDesk.Spans(Pauses.LeftOut)).Where(pair => titles.Contains(pair.First.Number)))
            {
                connection.Execute(
                    "INSERT INTO rip_track (run_id, number, first_sector, end_sector, state, surround) VALUES (@runId, @Number, @FirstSector, @EndSector, 'waiting', @surround)",
                    new { runId, span.Number, span.FirstSector, span.EndSector, surround = JsonSerializer.Serialize(new SurroundSource(title, choice), IntakeJson.Default.SurroundSource) });
                foreach (var target in chosen)
                    RipItems.Insert(connection, runId, position++, span, title.Number, target, disc, chosen.Count > 1, new SurroundSource(title, choice).Facts);
            }
        });
        return runId;
    }

    public IReadOnlyList<RipTrackRow> Tracks(long runId)
    {
        using var connection = database.Open();
        return connection.Query<RipTrackRow>("SELECT run_id, number, first_sector, end_sector, state, reading, surround FROM rip_track WHERE run_id = @runId ORDER BY number", new { runId }).AsList();
    }

    /// <summary>Tracks of a rip that were read and are not proved: doubtful, read once, or different the second time.</summary>
    public int CountUnproved(long runId) => Tracks(runId).Count(track => track.ReadReading() is { IsProved: false });

    /// <summary>The oldest rip that goes on and has tracks of a drive's disc to read.</summary>
    public long? NextFor(string letter)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<long?>(
            """
            SELECT r.id FROM run r WHERE r.kind = 'rip' AND r.state = 'running' AND r.drive = @letter
                AND EXISTS (SELECT 1 FROM rip_track WHERE run_id = r.id AND state = 'waiting') ORDER BY r.id LIMIT 1
            """,
            new { letter });
    }

    /// <summary>The newest rip of a disc in a drive.</summary>
    public long? Latest(string letter, long discId)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<long?>("SELECT id FROM run WHERE kind = 'rip' AND drive = @letter AND disc_id = @discId ORDER BY id DESC LIMIT 1", new { letter, discId });
    }

    /// <summary>Writes down what reading a track gave, and lets the items that need no other track wait for a worker.</summary>
    public void SetRead(long runId, TrackReading reading) => SetRead(runId, reading.Number, JsonSerializer.Serialize(reading, IntakeJson.Default.TrackReading));

    /// <summary>The same for a title of a surround disc, whose data the drive itself checks.</summary>
    public void SetTitleRead(long runId, int number) => SetRead(runId, number, null);

    private void SetRead(long runId, int number, string? reading)
    {
        var disc = DiscOf(runId);
        database.Change(connection =>
        {
            connection.Execute("UPDATE rip_track SET state = 'read', reading = @reading WHERE run_id = @runId AND number = @number", new { runId, number, reading });
            items.Release(connection, runId, number, disc);
            if (!connection.ExecuteScalar<bool>("SELECT EXISTS (SELECT 1 FROM rip_track WHERE run_id = @runId AND state <> 'read')", new { runId }))
                items.Release(connection, runId, WholeDisc, disc);
        });
    }

    /// <summary>Tracks that were read and whose copies are not all made.</summary>
    public IReadOnlyList<RipTrackRow> WaitingInSpool()
    {
        using var connection = database.Open();
        return connection.Query<RipTrackRow>(
            $"""
            SELECT t.run_id, t.number, t.first_sector, t.end_sector, t.state, t.reading, t.surround FROM rip_track t
            WHERE t.state = 'read' AND EXISTS (
                SELECT 1 FROM run_item WHERE run_id = t.run_id AND disc_track IN (t.number, {WholeDisc}) AND state IN ('reading', 'waiting', 'working', 'failed'))
            ORDER BY t.run_id, t.number
            """).AsList();
    }

    /// <summary>The sound of a track is lost: it is read again, and the copies wait for that. Gives the files of copies that were under way.</summary>
    public IReadOnlyList<string> SetUnread(long runId, int number)
    {
        var underWay = new List<string>();
        database.Change(connection =>
        {
            var lost = $"run_id = @runId AND disc_track IN (@number, {WholeDisc}) AND state IN ('waiting', 'working', 'failed')";
            underWay.AddRange(connection.Query<string>($"SELECT temporary_path FROM run_item WHERE {lost} AND temporary_path IS NOT NULL", new { runId, number }));
            connection.Execute($"UPDATE run_item SET state = 'reading', temporary_path = NULL, failure = NULL WHERE {lost}", new { runId, number });
            connection.Execute("UPDATE rip_track SET state = 'waiting', reading = NULL WHERE run_id = @runId AND number = @number", new { runId, number });
            connection.Execute("UPDATE run SET state = 'stopped', stop_reason = @reason, ended_at = NULL WHERE id = @runId AND state = 'done'", new { runId, reason = LostSound });
        });
        return underWay;
    }

    /// <summary>Rips that have ended and whose sound still lies in the spool.</summary>
    public IReadOnlyList<long> EndedWithSpool()
    {
        using var connection = database.Open();
        var ended = connection.Query<long>("SELECT id FROM run WHERE kind = 'rip' AND state = 'done'").ToHashSet();
        return [.. spool.Runs().Where(ended.Contains)];
    }

    /// <summary>Gives copies that are still to be made the names that the disc has now.</summary>
    public void NameAnew(long discId)
    {
        var disc = discs.Get(discId)!;
        database.Change(connection =>
        {
            var waiting = connection.Query<(long RunId, int Number)>(
                "SELECT DISTINCT i.run_id, i.disc_track FROM run r JOIN run_item i ON i.run_id = r.id WHERE r.disc_id = @discId AND i.state = 'waiting'", new { discId }).AsList();
            foreach (var (runId, number) in waiting)
                items.Release(connection, runId, number, disc);
            connection.Execute("UPDATE run SET title = @title WHERE disc_id = @discId AND kind = 'rip'", new { discId, title = TitleOf(disc) });
        });
    }

    public RipSettings SettingsOf(long runId)
    {
        using var connection = database.Open();
        return JsonSerializer.Deserialize(connection.ExecuteScalar<string>("SELECT rip_settings FROM run WHERE id = @runId", new { runId })!, IntakeJson.Default.RipSettings)!;
    }

    public DiscRow DiscOf(long runId)
    {
        using var connection = database.Open();
        return discs.Get(connection.ExecuteScalar<long>("SELECT disc_id FROM run WHERE id = @runId", new { runId }))!;
    }

    private long InsertRun(IDbConnection connection, DiscRow disc, string letter, List<Target> chosen, string? folder, RipSettings settings) => connection.ExecuteScalar<long>(
        """
        INSERT INTO run (title, target_name, output_folder, state, started_at, kind, disc_id, drive, rip_settings)
        VALUES (@title, @targetName, @folder, 'running', @now, 'rip', @discId, @letter, @settings) RETURNING id
        """,
        new
        {
            title = TitleOf(disc),
            targetName = string.Join(" and ", chosen.Select(target => target.Name)),
            folder = folder ?? options.RippedFolder,
            now = time.GetUtcNow().ToUnixTimeMilliseconds(),
            discId = disc.Id,
            letter,
            settings = JsonSerializer.Serialize(settings, IntakeJson.Default.RipSettings),
        });

    private static string TitleOf(DiscRow disc) => disc.ReadAlbum().Title is { Length: > 0 } title ? title : $"Disc {disc.ChecksumId}";
}
