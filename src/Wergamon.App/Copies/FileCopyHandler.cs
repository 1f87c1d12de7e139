using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.App.Tracks;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;

namespace Wergamon.App.Copies;

/// <summary>Makes one copy of a file for each item, for whatever station.</summary>
public abstract class FileCopyHandler(
    ItemKind<CopySpec, CopyResult> kind, CopyMaker maker, AllowedPaths allowed, LibraryQueries library, CopyFiles copies, RunStore runs,
    AlbumLevels levels)
    : ItemHandler<CopySpec>(kind)
{
    protected override async Task<ItemOutcome> ExecuteAsync(
        RunItemRow item, CopySpec spec, ItemContext context, CancellationToken cancellation)
    {
        if (!allowed.MayRead(spec.Job!.SourcePath))
            return ItemOutcome.Failed($"{spec.Job.SourcePath} is missing, or no longer a file in an allowed folder.");
        string? digest = spec.SourceCopyId is { } source ? library.DigestOf(source) : null;
        var job = await levels.WithGainAsync(
            item.RunId, spec.Album ?? "", spec.Target.Key, spec.Job, () => JobsOfAlbum(item.RunId, spec),
            cancellation).ConfigureAwait(false);
        var outcome = await maker.MakeAsync(
            item, spec, job with { KnownDigest = digest }, origin: null, context, cancellation,
            different => Correct(spec, spec.Job, different)).ConfigureAwait(false);
        return Record(spec, outcome);
    }

    protected override async Task<ItemOutcome?> RecoverAsync(RunItemRow item, CopySpec spec, CancellationToken cancellation) =>
        await maker.RecoverAsync(item, spec, origin: null).ConfigureAwait(false) is { } outcome ? Record(spec, outcome) : null;

    protected override ItemDescription Describe(RunItemRow item, CopySpec spec) =>
        CopyMaker.Describe(item, spec, "Nothing was written; the original is unchanged.");

    /// <summary>Records the outcome of a copy outside of the library, where that is needed.</summary>
    protected virtual ItemOutcome Record(CopySpec spec, ItemOutcome outcome) => outcome;

    /// <summary>The tracks whose level is measured as one.</summary>
    private List<ConvertJob> JobsOfAlbum(long runId, CopySpec mine) =>
        [
            .. runs.Items(runId)
                .Where(Items.Is)
                .Select(Items.SpecOf)
                .Where(spec => spec.Album == mine.Album && spec.Target.Key == mine.Target.Key)
                .Select(spec => spec.Job!)
        ];

    /// <summary>
    /// Plans a track again whose header was misread, by what a decoder made of it; null for a file that has changed since its scan.
    /// </summary>
    private (CopySpec Spec, ConvertJob Job)? Correct(CopySpec spec, ConvertJob job, DifferentSourceReply different)
    {
        // Nothing is stored of the other streams of a file that could be corrected, and parts are counted in frames of what was planned.
        if (job.Sound is not null || spec.IsNewTrack || spec.SourceCopyId is not { } id
            || copies.CorrectFormat(id, different) is not { } source)
            return null;
        var route = RoutePlanner.Plan(source.Facts, source.Fidelity, spec.Target);
        return (
            spec with { Steps = route.InWords, Fidelity = route.ResultFidelity, Generation = source.Generation + route.AddedGenerations },
            job with { SourceFormat = source.Facts.Format, Steps = route.StepsBeforeEncoding() });
    }
}
