using System.Data;
using Dapper;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.Core.Bytes;

namespace Wergamon.App.Deliver;

/// <summary>Deliveries and their tracks in the database.</summary>
public sealed class DeliveryStore(Database database, LibraryQueries library, TimeProvider time)
{
    /// <summary>The artist of what has several.</summary>
    internal const string ManyArtists = "Various artists";

    private const int MaxTitle = 120;

    private const string Select = "SELECT d.id, d.kind, d.title, d.settings, d.created_at, (SELECT COUNT(*) FROM delivery_item "
        + "WHERE delivery_id = d.id) AS tracks FROM delivery d";

    /// <summary>The newest first.</summary>
    public IReadOnlyList<DeliveryRow> List() =>
        database.Read("deliveries", connection => connection.Query<DeliveryRow>(Select + " ORDER BY d.id DESC").AsList());

    /// <summary>How long the tracks of deliveries play, in order; 0 for those that have left the library.</summary>
    internal ILookup<long, TimeSpan> Lengths(IEnumerable<long> ids)
    {
        using var connection = database.Open();
        return connection.Query<(long Delivery, long LengthMs)>(
            "SELECT i.delivery_id, COALESCE(l.length_ms, 0) FROM delivery_item i LEFT JOIN track_line l ON l.track_id = i.track_id "
                + "WHERE i.delivery_id IN (SELECT value FROM json_each(@list)) ORDER BY i.delivery_id, i.position, i.id",
            new { list = ListOf(ids) }).ToLookup(row => row.Delivery, row => TimeSpan.FromMilliseconds(row.LengthMs));
    }

    /// <summary>The newest run of each of these deliveries that has one.</summary>
    internal IReadOnlyDictionary<long, long> LatestRuns(IEnumerable<long> ids)
    {
        using var connection = database.Open();
        return connection.Query<(long Delivery, long Run)>(
            "SELECT delivery_id, MAX(run_id) FROM delivery_run WHERE delivery_id IN (SELECT value FROM json_each(@list)) "
                + "GROUP BY delivery_id",
            new { list = ListOf(ids) }).ToDictionary(row => row.Delivery, row => row.Run);
    }

    public DeliveryRow? Get(long id)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<DeliveryRow>(Select + " WHERE d.id = @id", new { id });
    }

    public IReadOnlyList<DeliveryItemRow> Items(long id)
    {
        using var connection = database.Open();
        return connection.Query<DeliveryItemRow>(
            "SELECT id, track_id, title, artist, settings FROM delivery_item WHERE delivery_id = @id ORDER BY position, id",
            new { id }).AsList();
    }

    /// <summary>A title as stored: one line of limited length.</summary>
    public static string TitleOf(string? typed) => WellFormedText.Line(typed, MaxTitle);

    /// <summary>The title of a new delivery: the given one, otherwise that of the only album.</summary>
    internal string TitleFor(string? title, IReadOnlyList<long> trackIds) =>
        TitleOf(title) is { Length: > 0 } given ? given
        : library.TracksById(trackIds).Select(track => TitleOf(track.AlbumTitle)).Distinct().ToList() is [{ Length: > 0 } album] ? album
        : "New delivery";

    /// <param name="title">As <see cref="TitleOf"/> gives it.</param>
    public long Create(DeliveryKind kind, string title, string settings, IReadOnlyList<long> trackIds)
    {
        var tracks = library.TracksById(trackIds);
        return database.Change(connection =>
        {
            long id = connection.ExecuteScalar<long>(
                "INSERT INTO delivery (kind, title, settings, created_at) VALUES (@kind, @title, @settings, @now) RETURNING id",
                new { kind = kind.ToString().ToLowerInvariant(), title, settings, now = time.GetUtcNow().ToUnixTimeMilliseconds() });
            connection.Execute(
                "INSERT INTO delivery_item (delivery_id, position, track_id, title, artist) VALUES (@id, @position, @Id, @Title, @Artist)",
                tracks.Select((track, position) => new { id, position, track.Id, track.Title, track.Artist }));
            return id;
        });
    }

    public void SetTitle(long id, string title) =>
        database.Change(connection => connection.Execute("UPDATE delivery SET title = @title WHERE id = @id", new { id, title }));

    public void SetSettings(long id, string settings) =>
        database.Change(connection => connection.Execute("UPDATE delivery SET settings = @settings WHERE id = @id", new { id, settings }));

    public void SetItemSettings(long itemId, string? settings) =>
        database.Change(
            connection => connection.Execute("UPDATE delivery_item SET settings = @settings WHERE id = @itemId", new { itemId, settings }));

    /// <summary>Reorders the items, or removes some.</summary>
    /// <param name="arrange">Receives the numbers of the items in order and returns those to keep.</param>
    public void Arrange(long id, Func<IReadOnlyList<long>, IReadOnlyList<long>> arrange) => database.Change(connection =>
    {
        var before = connection.Query<long>("SELECT id FROM delivery_item WHERE delivery_id = @id ORDER BY position, id", new { id })
            .AsList();
        var after = arrange(before);
        foreach (long gone in before.Except(after))
            connection.Execute("DELETE FROM delivery_item WHERE id = @gone", new { gone });
        connection.Execute(
            "UPDATE delivery_item SET position = @position WHERE id = @item", after.Select((item, position) => new { item, position }));
    });

    /// <summary>Moves the items after the first ones to new deliveries, a given number to each.</summary>
    /// <param name="counts">How many items each gets, this one first; together all.</param>
    /// <returns>All of them in order.</returns>
    public IReadOnlyList<long> Split(long id, IReadOnlyList<int> counts) => database.Change(connection =>
    {
        var row = connection.QueryFirst<DeliveryRow>(Select + " WHERE d.id = @id", new { id });
        var items = connection.Query<long>("SELECT id FROM delivery_item WHERE delivery_id = @id ORDER BY position, id", new { id })
            .AsList();
        var parts = new List<long> { id };
        connection.Execute("UPDATE delivery SET title = @title WHERE id = @id", new { id, title = PartTitle(row.Title, 1, counts.Count) });
        int from = counts[0];
        for (int part = 1; part < counts.Count; part++)
        {
            long made = connection.ExecuteScalar<long>(
                "INSERT INTO delivery (kind, title, settings, created_at) SELECT kind, @title, settings, created_at FROM delivery "
                    + "WHERE id = @id RETURNING id",
                new { id, title = PartTitle(row.Title, part + 1, counts.Count) });
            connection.Execute(
                "UPDATE delivery_item SET delivery_id = @made WHERE id = @item",
                items.Skip(from).Take(counts[part]).Select(item => new { made, item }));
            parts.Add(made);
            from += counts[part];
        }

        return parts;
    });

    internal void Remove(long id) => database.Change(connection => connection.Execute("DELETE FROM delivery WHERE id = @id", new { id }));

    /// <summary>The newest run of a delivery.</summary>
    public long? LatestRun(long id)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<long?>(
            "SELECT run_id FROM delivery_run WHERE delivery_id = @id ORDER BY run_id DESC LIMIT 1", new { id });
    }

    /// <summary>All runs of a delivery.</summary>
    internal IReadOnlyList<long> Runs(long id)
    {
        using var connection = database.Open();
        return connection.Query<long>("SELECT run_id FROM delivery_run WHERE delivery_id = @id", new { id }).AsList();
    }

    private static string ListOf(IEnumerable<long> numbers) => "[" + string.Join(',', numbers) + "]";

    private static string PartTitle(string title, int part, int parts) => TitleOf($"{title}, disc {part} of {parts}");
}
