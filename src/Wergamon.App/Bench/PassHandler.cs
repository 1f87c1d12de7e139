using System.Globalization;
using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.App.Workers;
using Wergamon.Core.Analysis.Comparing;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;

namespace Wergamon.App.Bench;

/// <summary>The series of passes that an item makes.</summary>
public sealed record PassSpec(long PassesId, long SeriesId);

/// <summary>
/// Encodes a sound repeatedly with one target, each pass from the pass before, and compares each with the original and with the one
/// before. Existing passes are not made again.
/// </summary>
public sealed class PassHandler(WorkerPool workers, PassStore store, BenchCache cache, AllowedPaths allowed)
    : ItemHandler<PassSpec>(ItemKind)
{
    public static readonly ItemKind<PassSpec> ItemKind = new("passes", () => BenchJson.Default.PassSpec);

    protected override async Task<ItemOutcome> ExecuteAsync(
        RunItemRow item, PassSpec spec, ItemContext context, CancellationToken cancellation)
    {
        if (store.Get(spec.PassesId) is not { } passes || passes.Series.FirstOrDefault(each => each.Id == spec.SeriesId) is not { } series)
            return ItemOutcome.Skipped("These passes were removed.");
        if (!allowed.MayRead(passes.Source.Path))
            return ItemOutcome.Failed($"{passes.Source.Path} is missing, or no longer a file in an allowed folder.");
        var name = Passes.FolderName(passes.Id);
        using var usage = cache.Use(name);
        var before = passes.Source;
        for (int number = 1; number <= passes.Count; number++)
        {
            if (series.Passes.FirstOrDefault(pass => pass.Number == number) is { Sound.IsUnchanged: true } known)
            {
                before = known.Sound;
                continue;
            }

            int done = number - 1;
            var (made, failure) = await MakeAsync(
                passes.Source, before, series, number, cache.FolderOf(name),
                (job, from, share) => workers.RunAsync(
                    job, WorkerPriority.Requested,
                    progress =>
                        context.Report(
                            (done + from
                                    + share * (
                                        progress.Total > 0 ? Math.Min(1, (double)progress.Done / progress.Total) : 0)) / passes.Count,
                            string.Create(CultureInfo.InvariantCulture, $"Pass {done + 1}")),
                    cancellation)).ConfigureAwait(false);
            if (made is null)
                return ItemOutcome.Failed(string.Create(CultureInfo.InvariantCulture, $"Pass {number}: {failure}"));
            store.Save(series.Id, made);
            before = made.Sound;
        }

        cache.Trim(name);
        return ItemOutcome.Done(null);
    }

    protected override ItemDescription Describe(RunItemRow item, PassSpec spec)
    {
        var series = store.Get(spec.PassesId)?.Series.FirstOrDefault(each => each.Id == spec.SeriesId);
        return new ItemDescription("Encoding", "Compared")
        {
            Detail = series is { Passes: [.., var last] }
                ? string.Create(
                    CultureInfo.InvariantCulture, $"{series.Passes.Count} passes; {NullVerdict.InWords(last.Original, "the last")}")
                : "",
            OnFailure = "The passes before it are kept.",
        };
    }

    /// <summary>Encodes once and compares the result with the original and with its input.</summary>
    private static async Task<(PassRecord? Pass, string? Failure)> MakeAsync(
        ComparedSound original, ComparedSound before, PassSeries series, int number, string folder, Ask ask)
    {
        var path = Path.Combine(
            folder, string.Create(CultureInfo.InvariantCulture, $"{series.Id}-{number:00}{series.Target.Format.Extension}"));
        var (encoded, failure) = await EncodeAsync(before, series.Target, path, ask).ConfigureAwait(false);
        if (encoded is null)
            return (null, failure);
        var sound = encoded with
        {
            Title = original.Title,
            Artist = original.Artist,
            Format = string.Create(CultureInfo.InvariantCulture, $"{encoded.Format}, pass {number}")
        };
        var sounds = Path.Combine(folder, string.Create(CultureInfo.InvariantCulture, $"compared-{series.Id}"));
        try
        {
            // A level that changes from pass to pass is part of the result.
            var first = await ask(new CompareJob(original.Path, sound.Path, sounds, MatchesLevel: false), 0.5, 0.25).ConfigureAwait(false);
            var second = number == 1
                ? first
                : await ask(new CompareJob(before.Path, sound.Path, sounds, MatchesLevel: false), 0.75, 0.25).ConfigureAwait(false);
            if (first is not CompareReply { Result: var found } || second is not CompareReply { Result: var previous })
                return (null, first.Failure ?? second.Failure);
            return (
                new PassRecord(
                    number, sound, found, previous with { BandEdges = [], FirstSpectrum = [], SecondSpectrum = [], ResidueSpectrum = [] }),
                null);
        }
        finally
        {
            if (PlainFolder.Exists(sounds))
                PlainFolder.RemoveTree(sounds);
        }
    }

    private static async Task<(ComparedSound? Sound, string? Failure)> EncodeAsync(
        ComparedSound source, Target target, string path, Ask ask)
    {
        if (await ask(new ProbeJob(source.Path), 0, 0).ConfigureAwait(false) is not ProbeReply { Facts: var facts })
            return (null, $"{source.Path} cannot be read.");
        PlainFile.Delete(path);
        var route = RoutePlanner.Plan(facts, Fidelity.Exact, target);
        var reply = await ask(new ConvertJob(source.Path, facts.Format, route.StepsBeforeEncoding(), target.Encoder, path, [], []), 0, 0.5)
            .ConfigureAwait(false);
        if (reply is not ConvertReply)
            return (null, reply.Failure);
        if (await ask(new ProbeJob(path), 0.5, 0).ConfigureAwait(false) is not ProbeReply { Facts: var made })
            return (null, "The new file cannot be read.");
        var fidelity = target.IsLossy ? Fidelity.Lossy : route.Fidelity;
        return (
            new ComparedSound(
                null, path, "", "", made.ShortLabel, fidelity,
                (long)made.Format.Duration(made.FrameCount).TotalMilliseconds)
            { Stamp = ComparedSound.StampOf(path) },
            null);
    }

    /// <summary>Sends a job to a worker.</summary>
    /// <param name="from">The share of the pass that is done before it; <paramref name="share"/> is its own share of the pass.</param>
    private delegate Task<WorkerReply> Ask(WorkerJob job, double from, double share);
}
