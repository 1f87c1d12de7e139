using Microsoft.Extensions.Hosting;
using Microsoft.Extensions.Logging;

namespace Wergamon.App.Storage;

/// <summary>Makes the daily backup, and notices when the database file is removed.</summary>
public sealed class BackupService(DatabaseBackups backups, Database database, TimeProvider time, ILogger<BackupService> logger)
    : BackgroundService
{
    private static readonly TimeSpan LookEvery = TimeSpan.FromSeconds(5), Day = TimeSpan.FromDays(1);

    /// <summary>A failed backup, perhaps on a full disk, is not retried at each check.</summary>
    private static readonly TimeSpan AgainAfter = TimeSpan.FromHours(1);

    private readonly long _begun = time.GetTimestamp();

    /// <summary>Earliest time of a backup after the start, which has enough to do.</summary>
    private TimeSpan _next = TimeSpan.FromMinutes(2);

    protected override Task ExecuteAsync(CancellationToken stoppingToken) =>
        Guard.KeepRunningAsync(logger, time, nameof(BackupService), RunAsync, stoppingToken);

    private async Task RunAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(LookEvery, time);
        while (await timer.WaitForNextTickAsync(stoppingToken).ConfigureAwait(false))
            Look();
    }

    internal void Look()
    {
        var running = time.GetElapsedTime(_begun);
        if (!database.IsThere() || running < _next)
            return;
        _next = running + AgainAfter;
        if (IsDue())
            Guard.Try(logger, "The daily backup", () => backups.Make(DatabaseBackups.Daily));
    }

    private bool IsDue() => backups.Latest is not { } newest || time.GetUtcNow() - newest.MadeAt >= Day;
}
