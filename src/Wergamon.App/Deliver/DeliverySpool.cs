using System.Globalization;
using Wergamon.App.Storage;

namespace Wergamon.App.Deliver;

/// <summary>Stores tracks that are ready for a disc until it is written, one folder per run.</summary>
public sealed class DeliverySpool(AppOptions options)
{
    public string FolderOf(long runId) => Path.Combine(options.Folders.DeliverySpool, runId.ToString(CultureInfo.InvariantCulture));

    public string PathOf(long runId, int index) =>
        Path.Combine(FolderOf(runId), index.ToString("000", CultureInfo.InvariantCulture) + ".wav");

    /// <summary>Runs that have something here.</summary>
    public IReadOnlyList<long> Runs() => PlainFolder.Exists(options.Folders.DeliverySpool)
        ? [
            .. PlainFolder.Folders(options.Folders.DeliverySpool)
                .Select(path => long.TryParse(Path.GetFileName(path), CultureInfo.InvariantCulture, out long id) ? id : 0)
                .Where(id => id > 0)
        ]
        : [];

    public void Clear(long runId)
    {
        if (PlainFolder.Exists(FolderOf(runId)))
            PlainFolder.RemoveTree(FolderOf(runId));
    }
}
