using Wergamon.App.Copies;
using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.App.Tracks;

namespace Wergamon.App.Deliver;

/// <summary>Makes a file for a disc or a stick; the library does not list it.</summary>
public sealed class DeliverFileHandler(
    CopyMaker maker, AllowedPaths allowed, LibraryQueries library, CopyFiles copies, RunStore runs, AlbumLevels levels)
    : FileCopyHandler(ItemKind, maker, allowed, library, copies, runs, levels)
{
    public static readonly ItemKind<CopySpec, CopyResult> ItemKind = new(
        CopyItemKind.Deliver, () => CopiesJson.Default.CopySpec, () => CopiesJson.Default.CopyResult);

    /// <summary>The spool is emptied when another run of the delivery starts.</summary>
    protected override bool HasResult(RunItemRow item, CopySpec spec) => ItemKind.ResultOf(item) is { } made && PlainFile.Exists(made.Path);
}
