using Microsoft.Extensions.Hosting;
using Microsoft.Extensions.Logging;

namespace Wergamon.App.Storage;

/// <summary>Makes the daily backup, and notices when the database is taken away.</summary>
public sealed class BackupService(DatabaseBackups backups, Database database, TimeProvider time, ILogger<BackupService> logger) : BackgroundService
{
    private static readonly TimeSpan LookEvery = TimeSpan.FromSeconds(5), Day = TimeSpan.FromDays(1);

    /// <summary>A start has enough to do.</summary>
    private static readonly TimeSpan FirstAfter = TimeSpan.FromMinutes(2);

    protected override Task ExecuteAsync(CancellationToken stoppingToken) => Guard.KeepRunningAsync(logger, time, nameof(BackupService), RunAsync, stoppingToken);

    private async Task RunAsync(CancellationToken stoppingToken)
    {
        long begun = time.GetTimestamp();
        using var timer = new PeriodicTimer(LookEvery, time);
        while (await timer.WaitForNextTickAsync(stoppingToken).ConfigureAwait(false))
        {
            bool isThere = database.IsThere();
            if (isThere && time.GetElapsedTime(begun) >= FirstAfter && IsDue())
                Guard.Try(logger, "The daily backup", () => backups.Make(DatabaseBackups.Daily));
        }
    }

    private bool IsDue() => backups.Latest is not { } newest || time.GetUtcNow() - newest.MadeAt >= Day;
}
