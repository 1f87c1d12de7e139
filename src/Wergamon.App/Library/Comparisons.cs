using System.Threading.Channels;
using Dapper;
using Microsoft.Extensions.Hosting;
using Microsoft.Extensions.Logging;
using Wergamon.App.Data;
using Wergamon.App.Runs;
using Wergamon.Core.Jobs;

namespace Wergamon.App.Library;

/// <summary>Finds out in the background how the sound of two copies differs, once somebody asks.</summary>
public sealed class Comparisons(Database database, AppOptions options, ILogger<WorkerPool> workerLogger) : BackgroundService
{
    private readonly WorkerPool _workers = new(options with { WorkerCount = 1, WorkersGiveWay = true }, workerLogger);
    private readonly Channel<(CopyRow First, CopyRow Second)> _queue = Channel.CreateUnbounded<(CopyRow First, CopyRow Second)>();
    private readonly HashSet<(long First, long Second)> _asked = [];

    /// <summary>Raised when another comparison is known.</summary>
    public event Action? Changed;

    /// <summary>How the second copy differs from the first, as a sentence about the second without its subject; null as long as that is being found out.</summary>
    public string? Find(CopyRow first, CopyRow second)
    {
        using (var connection = database.Open())
        {
            if (connection.QueryFirstOrDefault<string>(
                "SELECT words FROM comparison WHERE first_copy_id = @first AND second_copy_id = @second", new { first = first.Id, second = second.Id }) is { } words)
                return words;
        }

        lock (_asked)
        {
            if (_asked.Add((first.Id, second.Id)))
                _queue.Writer.TryWrite((first, second));
        }

        return null;
    }

    public override void Dispose()
    {
        _workers.Dispose();
        base.Dispose();
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        await foreach (var (first, second) in _queue.Reader.ReadAllAsync(stoppingToken).ConfigureAwait(false))
        {
            var words = await CompareAsync(first, second, stoppingToken).ConfigureAwait(false);
            using (var connection = database.Open())
            {
                // A copy may have been forgotten meanwhile.
                connection.Execute(
                    """
                    INSERT OR REPLACE INTO comparison (first_copy_id, second_copy_id, words)
                    SELECT one.id, two.id, @words FROM copy one, copy two WHERE one.id = @first AND two.id = @second
                    """,
                    new { first = first.Id, second = second.Id, words });
            }

            lock (_asked)
                _asked.Remove((first.Id, second.Id));
            Changed?.Invoke();
        }
    }

    private async Task<string> CompareAsync(CopyRow first, CopyRow second, CancellationToken cancellation)
    {
        try
        {
            var reply = await _workers.RunAsync(new WorkerRequest(Compare: new CompareJob(first.Path, second.Path)), _ => { }, cancellation).ConfigureAwait(false);
            return reply.Difference?.InWords() ?? $"cannot be compared: {reply.Failure}";
        }
        catch (WorkerLostException lost)
        {
            return $"cannot be compared: {lost.Message}";
        }
    }
}
