using Microsoft.Extensions.Logging;

namespace Wergamon.App.Storage;

/// <summary>
/// Backups before changes that could lose much at once: removing a folder or a set, moving many duplicates to the trash, applying changes
/// from a stick. If the backup fails, the change still goes ahead.
/// </summary>
public sealed class ChangeBackups(DatabaseBackups backups, TimeProvider time, ILogger<ChangeBackups> logger)
{
    /// <summary>Many files at once.</summary>
    public const int LeastFiles = 20;

    private static readonly TimeSpan Recent = TimeSpan.FromMinutes(10);

    /// <summary>Makes a backup, unless there is one from the last minutes.</summary>
    public void Make()
    {
        if (backups.Latest is not { } newest || time.GetUtcNow() - newest.MadeAt > Recent)
            Guard.Try(logger, "The backup before a large change", () => backups.Make(DatabaseBackups.BeforeChange));
    }
}
