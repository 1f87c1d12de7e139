using Microsoft.Extensions.Logging;

namespace Wergamon.App.Storage;

/// <summary>
/// Backups before changes by which much could be lost at once: a folder or a set goes, many files are tidied away, what a stick says is taken
/// over. One that cannot be made keeps nobody from the change.
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
