using Microsoft.Extensions.Logging;

namespace Wergamon.App.Storage;

/// <summary>
/// Backups before changes that could lose much at once: removing a folder or a set, moving many duplicates to the trash, applying changes
/// from a stick. They hold the state before the change, which need not wait for them. If the backup fails, the change still goes ahead.
/// </summary>
public sealed class ChangeBackups(DatabaseBackups backups, TimeProvider time, ILogger<ChangeBackups> logger) : IDisposable
{
    /// <summary>Many files at once.</summary>
    public const int LeastFiles = 20;

    private static readonly TimeSpan Recent = TimeSpan.FromMinutes(10);

    private readonly Lock _starting = new();

    private Task _newest = Task.CompletedTask;

    /// <summary>Starts a backup, unless there is one from the last minutes.</summary>
    public void Start()
    {
        lock (_starting)
        {
            if (!_newest.IsCompleted || backups.Latest is { } latest && time.GetUtcNow() - latest.MadeAt <= Recent)
                return;
            // The snapshot begins here: later changes are not part of it.
            _newest = Guard.TryAsync(
                logger, "The backup before a large change", () => backups.MakeInBackground(DatabaseBackups.BeforeChange));
        }
    }

    /// <summary>Waits for the backup that is being made.</summary>
    public void Dispose() => _newest.Wait();
}
