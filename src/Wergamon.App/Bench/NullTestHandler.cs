using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.App.Tracks;
using Wergamon.App.Workers;
using Wergamon.Core.Analysis.Comparing;
using Wergamon.Core.Jobs;

namespace Wergamon.App.Bench;

/// <summary>The null test that an item makes.</summary>
public sealed record NullTestSpec(long TestId);

/// <summary>Makes null tests.</summary>
public sealed class NullTestHandler(WorkerPool workers, NullTestStore store, BenchCache cache, LibraryQueries library, AllowedPaths allowed)
    : ItemHandler<NullTestSpec>(ItemKind)
{
    public static readonly ItemKind<NullTestSpec> ItemKind = new("null-test", () => BenchJson.Default.NullTestSpec);

    protected override async Task<ItemOutcome> ExecuteAsync(
        RunItemRow item, NullTestSpec spec, ItemContext context, CancellationToken cancellation)
    {
        var id = spec.TestId;
        if (store.Get(id) is not { } test)
            return ItemOutcome.Skipped("This comparison was removed.");
        foreach (var sound in new[] { test.First, test.Second })
        {
            if (!allowed.MayRead(sound.Path))
                return Failed(id, $"{sound.Path} is missing, or no longer a file in an allowed folder.");
        }

        var name = NullTests.FolderName(id);
        using var usage = cache.Use(name);
        var reply = await workers.RunAsync(
            new CompareJob(
                test.First.Path, test.Second.Path, cache.FolderOf(name), test.MatchesLevel)
            { FirstLoudness = Known(test.First), SecondLoudness = Known(test.Second) },
            WorkerPriority.Requested,
            progress => context.Report(progress.Total > 0 ? Math.Min(1, (double)progress.Done / progress.Total) : 0),
            cancellation).ConfigureAwait(false);
        if (reply is not CompareReply { Result: var result })
        {
            cache.Remove(name);
            return Failed(id, reply.Failure ?? "The worker gave no reason.");
        }

        store.Save(id, result, null);
        cache.Trim(name);
        return ItemOutcome.Done(null);
    }

    protected override ItemDescription Describe(RunItemRow item, NullTestSpec spec) => new("Comparing", "Compared")
    {
        Detail = store.Get(spec.TestId) is { Result: { } result } ? NullVerdict.InWords(result, "B") : "",
        OnFailure = "Nothing was changed.",
    };

    /// <summary>What the analysis of a copy has already measured.</summary>
    private KnownLoudness? Known(ComparedSound sound) =>
        sound is { CopyId: { } copy, IsUnchanged: true } && library.KnownSoundsOf([copy], asOne: false).TryGetValue(copy, out var known)
            ? new KnownLoudness(known.Level.Integrated, known.Level.TruePeak)
            : null;

    private ItemOutcome Failed(long id, string reason)
    {
        store.Save(id, null, reason);
        return ItemOutcome.Failed(reason);
    }
}
