using System.Threading.Channels;
using Dapper;
using Microsoft.Extensions.Hosting;
using Microsoft.Extensions.Logging;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.App.Workers;
using Wergamon.Core.Analysis.Comparing;
using Wergamon.Core.Jobs;

namespace Wergamon.App.Library.Comparing;

/// <summary>Compares the audio of two copies in the background, on request.</summary>
public sealed class Comparisons(AppOptions options, Database database, WorkerPool workers, TimeProvider time, ILogger<Comparisons> logger)
    : BackgroundService
{
    /// <summary>For the sounds while they are compared.</summary>
    private readonly string _folder = Path.Combine(options.DataFolder, "comparing");

    private readonly Channel<(CopyRow First, CopyRow Second)> _queue = Channel.CreateUnbounded<(CopyRow First, CopyRow Second)>();
    private readonly HashSet<(long First, long Second)> _asked = [];

    /// <summary>Raised when a comparison is finished.</summary>
    public event Action? Changed;

    /// <summary>How the second copy differs from the first, as a sentence; null while that is being computed.</summary>
    public string? Find(CopyRow first, CopyRow second)
    {
        using (var connection = database.Open())
        {
            var known = connection.QueryFirstOrDefault<(string? Verdict, string? Failure)>(
                "SELECT verdict, failure FROM comparison WHERE first_copy_id = @first AND second_copy_id = @second",
                new { first = first.Id, second = second.Id });
            if (known.Verdict is not null)
                return known.Verdict;
            if (known.Failure is not null)
                return $"cannot be compared: {known.Failure}";
        }

        lock (_asked)
        {
            if (_asked.Add((first.Id, second.Id)))
                _queue.Writer.TryWrite((first, second));
        }

        return null;
    }

    protected override Task ExecuteAsync(CancellationToken stoppingToken) =>
        Guard.KeepRunningAsync(logger, time, nameof(Comparisons), RunAsync, stoppingToken);

    private async Task RunAsync(CancellationToken stoppingToken)
    {
        // Files left when the server was killed.
        Guard.Try(logger, "Clearing up after comparisons", Clear);
        await foreach (var (first, second) in _queue.Reader.ReadAllAsync(stoppingToken).ConfigureAwait(false))
        {
            await Guard.TryAsync(logger, $"Comparing copies {first.Id} and {second.Id}", async () =>
            {
                var (verdict, failure) = await CompareAsync(first, second, stoppingToken).ConfigureAwait(false);
                // A copy may have been removed in the meantime.
                database.Change(connection => connection.Execute(
                    """
                    INSERT OR REPLACE INTO comparison (first_copy_id, second_copy_id, verdict, failure)
                    SELECT one.id, two.id, @verdict, @failure FROM copy one, copy two WHERE one.id = @first AND two.id = @second
                    """,
                    new { first = first.Id, second = second.Id, verdict, failure }));
            }).ConfigureAwait(false);
            lock (_asked)
                _asked.Remove((first.Id, second.Id));
            Guard.Try(logger, "Telling of a comparison", () => Changed?.Invoke());
        }
    }

    private void Clear()
    {
        if (PlainFolder.Exists(_folder))
            PlainFolder.RemoveTree(_folder);
    }

    private async Task<(string? Verdict, string? Failure)> CompareAsync(CopyRow first, CopyRow second, CancellationToken cancellation)
    {
        try
        {
            var job = new CompareJob(first.Path, second.Path, _folder, MatchesLevel: true);
            var reply = await workers.RunUntilRepliedAsync(job, second.Path, WorkerPriority.Background, cancellation).ConfigureAwait(false);
            return reply is CompareReply { Result: var result } ? (NullVerdict.InWords(result, "this one"), null) : (null, reply.Failure);
        }
        finally
        {
            Clear();
        }
    }
}
