using System.Data;
using Dapper;
using Wergamon.App.Data;
using Wergamon.App.Files;
using Wergamon.App.Library;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;

namespace Wergamon.App.Convert;

public sealed record PlanRow
{
    public long Id { get; init; }

    public string Title { get; init; } = "";

    public string TargetKey { get; init; } = "";

    public string? OutputFolder { get; init; }

    public long CreatedAt { get; init; }

    public int Tracks { get; init; }
}

/// <summary>One line of a plan as it is shown and run.</summary>
/// <param name="Position">Its place in the plan, from 0.</param>
/// <param name="Planned">What will happen; null where the track has no copy that is there.</param>
public sealed record PlanLine(int Position, TrackRow Track, bool IsLeftOut, PlanItem? Planned)
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

    public int TagsTotal => Running.Sum(line => line.Planned!.Source.Capacity.Total);

    public int TagsKept => Running.Sum(line => line.Planned!.TagsKept(Target));

    public bool IsAllExact => Running.All(line => line.Planned!.Size.Basis == SizeBasis.Exact);

    public bool HasRoom => FreeBytes is not { } free || BytesThen < free;
}

/// <summary>Plans: which tracks, for which target, into which folder. What follows from that is worked out when it is asked for.</summary>
public sealed class Plans(Database database, LibraryQueries library, TargetChoices targets, AllowedPaths allowed, AppOptions options, TimeProvider time)
{
    public long Create(string title, string targetKey, IReadOnlyList<long> trackIds)
    {
        long id = 0;
        database.Change(connection =>
        {
            id = connection.ExecuteScalar<long>(
                "INSERT INTO plan (title, target_key, created_at) VALUES (@title, @targetKey, @now) RETURNING id",
                new { title, targetKey, now = time.GetUtcNow().ToUnixTimeMilliseconds() });
            connection.Execute(
                "INSERT INTO plan_item (plan_id, position, track_id) VALUES (@id, @position, @trackId)",
                trackIds.Select((trackId, position) => new { id, position, trackId }));
        });
        return id;
    }

    public IReadOnlyList<PlanRow> List()
    {
        using var connection = database.Open();
        return connection.Query<PlanRow>(
            """
            SELECT p.id, p.title, p.target_key, p.output_folder, p.created_at, (SELECT COUNT(*) FROM plan_item WHERE plan_id = p.id) AS tracks
            FROM plan p WHERE NOT EXISTS (SELECT 1 FROM run WHERE plan_id = p.id) ORDER BY p.id DESC LIMIT 100
            """).AsList();
    }

    public int CountOpen()
    {
        using var connection = database.Open();
        return connection.ExecuteScalar<int>("SELECT COUNT(*) FROM plan p WHERE NOT EXISTS (SELECT 1 FROM run WHERE plan_id = p.id)");
    }

    public void Delete(long id)
    {
        using var connection = database.Open();
        connection.Execute("DELETE FROM plan WHERE id = @id", new { id });
    }

    public void SetTarget(long id, string targetKey)
    {
        using var connection = database.Open();
        connection.Execute("UPDATE plan SET target_key = @targetKey WHERE id = @id", new { id, targetKey });
    }

    /// <summary>Sets where the copies go; gives the reason, for the person, when they cannot go there.</summary>
    public string? SetOutputFolder(long id, string? typed)
    {
        var check = allowed.CheckOutputFolder(typed);
        if (check.Path is null)
            return check.Refusal;
        using var connection = database.Open();
        connection.Execute("UPDATE plan SET output_folder = @Path WHERE id = @id", new { id, check.Path });
        return null;
    }

    public void SetLeftOut(long id, int position, bool isLeftOut)
    {
        using var connection = database.Open();
        connection.Execute("UPDATE plan_item SET is_left_out = @isLeftOut WHERE plan_id = @id AND position = @position", new { id, position, isLeftOut });
    }

    public PlanView? View(long id)
    {
        using var connection = database.Open();
        var plan = connection.QueryFirstOrDefault<PlanRow>("SELECT id, title, target_key, output_folder, created_at FROM plan WHERE id = @id", new { id });
        if (plan is null)
            return null;
        var target = targets.Get(plan.TargetKey);
        var folder = plan.OutputFolder ?? Path.Combine(options.ConvertedFolder, target.Name);
        var items = connection.Query<(int Position, long TrackId, bool IsLeftOut)>(
            "SELECT position, track_id, is_left_out FROM plan_item WHERE plan_id = @id ORDER BY position", new { id }).AsList();
        var tracks = library.TracksById([.. items.Select(item => item.TrackId)]).ToDictionary(track => track.Id);
        var lines = items.Where(item => tracks.ContainsKey(item.TrackId)).Select(item => (item.Position, Track: tracks[item.TrackId], item.IsLeftOut)).ToList();

        var there = lines.Where(line => !line.IsLeftOut && !line.Track.Master.IsMissing).ToList();
        var planned = Planner.Plan(there.Select(line => SourceOf(connection, line.Track)), target, path => File.Exists(Path.Combine(folder, path)));
        var byPosition = there.Zip(planned).ToDictionary(pair => pair.First.Position, pair => pair.Second);
        return new PlanView(
            plan, target, folder,
            [.. lines.Select(line => new PlanLine(line.Position, line.Track, line.IsLeftOut, byPosition.GetValueOrDefault(line.Position)))],
            FreeBytesAt(folder));
    }

    private static PlanSource SourceOf(IDbConnection connection, TrackRow track)
    {
        var master = track.Master;
        var tags = LibraryQueries.ReadTags(connection, master.Id, onlyFromName: false);
        if (tags[FieldNames.Title].Count == 0)
            tags.Set(FieldNames.Title, track.Title);
        if (tags[FieldNames.Album].Count == 0)
            tags.Set(FieldNames.Album, track.AlbumTitle);
        return new PlanSource(track.Id, master.Facts, master.Fidelity, master.FileBytes, tags, master.Capacity, master.TagsFromName);
    }

    private static long? FreeBytesAt(string folder)
    {
        for (var at = folder; at is not null; at = Path.GetDirectoryName(at))
        {
            if (Directory.Exists(at))
                return new DriveInfo(at).AvailableFreeSpace;
        }

        return null;
    }
}
