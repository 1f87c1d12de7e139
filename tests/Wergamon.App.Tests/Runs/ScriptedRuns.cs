using System.Collections.Concurrent;
using System.Globalization;
using Dapper;
using Microsoft.Extensions.Logging.Abstractions;
using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.App.Workers;

namespace Wergamon.App.Tests.Runs;

/// <summary>A real scheduler whose items only note that they were carried out, and fail as they are told.</summary>
internal sealed class ScriptedRuns : IItemHandler, IAsyncDisposable
{
    public const string ItemKind = "scripted";

    /// <summary>Why an item failed that failed by itself.</summary>
    public const string Reason = "As it was told.";

    private readonly RunningApp _app = new();
    private readonly ConcurrentQueue<int> _log = new();
    private readonly ConcurrentDictionary<long, bool> _failing = new(), _results = new();
    private RunScheduler? _scheduler;

    public string Kind => ItemKind;

    /// <summary>Items that were begun although something that they need was not there.</summary>
    public ConcurrentBag<long> MissedNeeds { get; } = [];

    public static async Task<ScriptedRuns> StartAsync()
    {
        var runs = new ScriptedRuns();
        await runs._app.StartAsync();
        await runs._app.Get<RunScheduler>().StopAsync(CancellationToken.None);
        runs._scheduler = new RunScheduler(
            runs._app.Get<RunStore>(), runs._app.Get<RunProgress>(), runs._app.Get<Placement>(), runs._app.Get<Signals>(),
            runs._app.Get<WorkLoad>(), [runs], NullLogger<RunScheduler>.Instance);
        await runs._scheduler.StartAsync(CancellationToken.None);
        return runs;
    }

    public static IEnumerable<(int Item, int Other, WaitReason Reason)> Waits(WaitReason?[][] shape) =>
        from item in Enumerable.Range(0, shape.Length)
        from other in Enumerable.Range(0, item)
        where shape[item][other] is not null
        select (
            item, other, shape[item][other]!.Value);

    /// <summary>Which items of a shape fail when some fail by themselves.</summary>
    public static IEnumerable<bool> Failing(WaitReason?[][] shape, bool[] byThemselves)
    {
        var failing = new bool[shape.Length];
        for (int item = 0; item < failing.Length; item++)
            failing[item] = byThemselves[item]
                || Waits(shape).Any(wait => wait.Item == item && wait.Reason == WaitReason.Success && failing[wait.Other]);
        return failing;
    }

    /// <summary>What is retried with an item: all failed ones that it needs, at any depth.</summary>
    public static ISet<int> TakesAlong(WaitReason?[][] shape, IReadOnlyList<RunItemRow> run, int item)
    {
        var along = new HashSet<int> { item };
        for (int at = item; at >= 0; at--)
        {
            if (along.Contains(at))
                along.UnionWith(
                    Waits(shape)
                        .Where(wait => wait.Item == at && wait.Reason == WaitReason.Success && run[wait.Other].State == ItemState.Failed)
                        .Select(wait => wait.Other));
        }

        return along;
    }

    public async Task<IReadOnlyList<RunItemRow>> RunAsync(WaitReason?[][] shape, bool[] fail)
    {
        long run = _app.Get<Database>().Change(connection =>
        {
            long id = _app.Get<RunStore>()
                .Insert(connection, new NewRun(new RunKind(ItemKind, Station.Bench, "Working", "done"), "Scripted", "", null));
            var items = new long[shape.Length];
            for (int item = 0; item < items.Length; item++)
            {
                items[item] = RunStore.InsertItem(connection, id, item, new NewItem(ItemKind, Lane.Worker, $"Item {item}", 1, "{}"));
                _failing[items[item]] = fail[item];
            }

            foreach (var (item, other, reason) in Waits(shape))
                RunStore.InsertWait(connection, items[item], items[other], reason);
            return id;
        });
        return await _app.EndAsync(run);
    }

    public async Task<IReadOnlyList<RunItemRow>> RetryAsync(long run, long? item)
    {
        _failing.Clear();
        _scheduler!.Retry(run, item);
        return await _app.EndAsync(run);
    }

    public void Lose(IEnumerable<RunItemRow> items)
    {
        foreach (var item in items)
            _results.TryRemove(item.Id, out _);
    }

    /// <summary>Positions of the items that were carried out since the last time, in order.</summary>
    public IReadOnlyList<int> TakeLog()
    {
        var log = _log.ToList();
        _log.Clear();
        return log;
    }

    public Task<ItemOutcome> ExecuteAsync(RunItemRow item, ItemContext context, CancellationToken cancellation)
    {
        using var connection = _app.Get<Database>().Open();
        if (connection.Query<long>("SELECT on_item_id FROM run_item_wait WHERE item_id = @Id AND reason = 'success'", new { item.Id })
            .Any(needed => !_results.ContainsKey(needed)))
            MissedNeeds.Add(item.Id);
        _log.Enqueue(item.Position);
        if (_failing.GetValueOrDefault(item.Id))
            return Task.FromResult(ItemOutcome.Failed(Reason));
        _results[item.Id] = true;
        return Task.FromResult(ItemOutcome.Done(item.Position.ToString(CultureInfo.InvariantCulture)));
    }

    public bool HasResult(RunItemRow item) => _results.ContainsKey(item.Id);

    public ItemDescription Describe(RunItemRow item) => new("Working", "Done");

    public async ValueTask DisposeAsync()
    {
        await _scheduler!.StopAsync(CancellationToken.None);
        _scheduler.Dispose();
        await _app.DisposeAsync();
    }
}
