using Wergamon.App.Copies;
using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.App.Tracks;

namespace Wergamon.App.Convert;

/// <summary>Carries out the conversions of a plan or a mirror.</summary>
public sealed class ConvertHandler(
    CopyMaker maker, AllowedPaths allowed, LibraryQueries library, CopyFiles copies, RunStore runs, AlbumLevels levels,
    MirrorStore mirrors)
    : FileCopyHandler(ItemKind, maker, allowed, library, copies, runs, levels)
{
    public static readonly ItemKind<CopySpec, CopyResult> ItemKind = new(
        CopyItemKind.Convert, () => CopiesJson.Default.CopySpec, () => CopiesJson.Default.CopyResult);

    /// <summary>A mirror keeps a record of the files that were made for it.</summary>
    protected override ItemOutcome Record(CopySpec spec, ItemOutcome outcome)
    {
        if (spec.Mirror is { } place && CopyResult.Of(outcome) is { } made)
            mirrors.Save(place.MirrorId, place.Entry with { Path = made.Path });
        return outcome;
    }
}
