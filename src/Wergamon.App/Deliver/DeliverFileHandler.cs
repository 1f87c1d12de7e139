using Wergamon.App.Copies;
using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.App.Tracks;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;

namespace Wergamon.App.Deliver;

/// <summary>Makes a file for a disc or a stick; the library does not list it.</summary>
public sealed class DeliverFileHandler(
    CopyMaker maker, AllowedPaths allowed, LibraryQueries library, CopyFiles copies, RunStore runs, AlbumLevels levels)
    : ItemHandler<CopySpec>(ItemKind)
{
    public static readonly ItemKind<CopySpec, CopyResult> ItemKind = new(
        CopyItemKind.Deliver, CopiesJson.Default.CopySpec, CopiesJson.Default.CopyResult);

    protected override async Task<ItemOutcome> ExecuteAsync(
        RunItemRow item, CopySpec spec, ItemContext context, CancellationToken cancellation)
    {
        if (!allowed.MayRead(spec.Job!.SourcePath))
            return ItemOutcome.Failed($"{spec.Job.SourcePath} is missing, or no longer a file in an allowed folder.");
        var job = await levels.WithGainAsync(
            item.RunId, "", spec.Target.Key, spec.Job,
            () => [.. runs.Items(item.RunId).Where(ItemKind.Is).Select(other => CopySpec.Of(other).Job!)],
            cancellation).ConfigureAwait(false);
        return await maker.MakeAsync(
            item, spec, job with { KnownDigest = library.DigestOf(spec.SourceCopyId!.Value) }, origin: null, context, cancellation,
            different => Correct(spec, different)).ConfigureAwait(false);
    }

    protected override Task<ItemOutcome?> RecoverAsync(RunItemRow item, CopySpec spec, CancellationToken cancellation) =>
        maker.RecoverAsync(item, spec, origin: null);

    /// <summary>The spool is emptied when another run of the delivery starts.</summary>
    protected override bool HasResult(RunItemRow item, CopySpec spec) => ItemKind.ResultOf(item) is { } made && PlainFile.Exists(made.Path);

    protected override ItemDescription Describe(RunItemRow item, CopySpec spec) =>
        CopyMaker.Describe(item, spec, "Nothing was written; the original is unchanged.");

    private (CopySpec Spec, ConvertJob Job)? Correct(CopySpec spec, DifferentSourceReply different)
    {
        if (copies.CorrectFormat(spec.SourceCopyId!.Value, different) is not { } source)
            return null;
        var route = RoutePlanner.Plan(source.Facts, source.Fidelity, spec.Target);
        return (
            spec with { Steps = route.InWords, Fidelity = route.ResultFidelity },
            spec.Job! with { SourceFormat = source.Facts.Format, Steps = route.StepsBeforeEncoding() });
    }
}
