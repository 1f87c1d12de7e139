using System.Text.Json;
using System.Threading.Channels;
using Dapper;
using Microsoft.Extensions.Hosting;
using Microsoft.Extensions.Logging;
using Wergamon.App.Storage;
using Wergamon.App.Workers;
using Wergamon.Core.Formats.Iff;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;

namespace Wergamon.App.Library;

/// <summary>Compares the audio of two copies in the background, on request.</summary>
public sealed class Comparisons(Database database, WorkerPool workers) : BackgroundService
{
    private readonly Channel<(CopyRow First, CopyRow Second)> _queue = Channel.CreateUnbounded<(CopyRow First, CopyRow Second)>();
    private readonly HashSet<(long First, long Second)> _asked = [];

    /// <summary>Raised when a comparison is finished.</summary>
    public event Action? Changed;

    /// <summary>How the second copy differs from the first, as a sentence about the second without its subject; null while that is being computed.</summary>
    public string? Find(CopyRow first, CopyRow second)
    {
        using (var connection = database.Open())
        {
            var known = connection.QueryFirstOrDefault<(string? Difference, string? Failure)>(
                "SELECT difference, failure FROM comparison WHERE first_copy_id = @first AND second_copy_id = @second", new { first = first.Id, second = second.Id });
            if (known.Difference is not null)
                return JsonSerializer.Deserialize(known.Difference, LibraryJson.Default.AudioDifference)!.InWords();
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

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        await foreach (var (first, second) in _queue.Reader.ReadAllAsync(stoppingToken).ConfigureAwait(false))
        {
            var (difference, failure) = await CompareAsync(first, second, stoppingToken).ConfigureAwait(false);
            // A copy may have been forgotten meanwhile.
            database.Change(connection => connection.Execute(
                """
                INSERT OR REPLACE INTO comparison (first_copy_id, second_copy_id, difference, failure)
                SELECT one.id, two.id, @difference, @failure FROM copy one, copy two WHERE one.id = @first AND two.id = @second
                """,
                new { first = first.Id, second = second.Id, difference, failure }));

            lock (_asked)
                _asked.Remove((first.Id, second.Id));
            Changed?.Invoke();
        }
    }

    private async Task<(string? Difference, string? Failure)> CompareAsync(CopyRow first, CopyRow second, CancellationToken cancellation)
    {
        try
        {
            var reply = await workers.RunAsync(new CompareJob(first.Path, second.Path), WorkerPriority.Background, null, cancellation).ConfigureAwait(false);
            return reply is CompareReply { Difference: var difference } ? (JsonSerializer.Serialize(difference, LibraryJson.Default.AudioDifference), null) : (null, reply.Failure);
        }
        catch (WorkerLostException lost)
        {
            return (null, lost.Message);
        }
    }
}
