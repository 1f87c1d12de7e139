using System.Globalization;
using System.Text.Json;
using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.App.Workers;
using Wergamon.Core.Analysis.Comparing;
using Wergamon.Core.Formats;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;

namespace Wergamon.App.Bench;

/// <summary>The series of passes that an item makes.</summary>
internal sealed record PassSpec(long PassesId, long SeriesId)
{
    public int Version { get; init; } = 1;

    public string ToJson() => JsonSerializer.Serialize(this, BenchJson.Default.PassSpec);

    public static PassSpec Of(RunItemRow item) =>
        JsonSerializer.Deserialize(item.Spec, BenchJson.Default.PassSpec) ?? throw new InvalidDataException($"Run item {item.Id} does not say which series.");
}

/// <summary>
/// Encodes a sound again and again with one target, each pass from the pass before, and compares each with the original and with the one
/// before. Passes that are there already are not made again.
/// </summary>
public sealed class PassHandler(WorkerPool workers, PassStore store, BenchCache cache, AllowedPaths allowed) : IItemHandler
{
    /// <summary>Names the items, and the runs that they make up.</summary>
    public const string ItemKind = "passes";

    public string Kind => ItemKind;

    public async Task<ItemOutcome> ExecuteAsync(RunItemRow item, ItemContext context, CancellationToken cancellation)
    {
        var spec = PassSpec.Of(item);
        if (store.Get(spec.PassesId) is not { } passes || passes.Series.FirstOrDefault(each => each.Id == spec.SeriesId) is not { } series)
            return ItemOutcome.Skipped("These passes were removed.");
        if (!allowed.MayRead(passes.Source.Path))
            return ItemOutcome.Failed($"{passes.Source.Path} is not there, or is no longer a file in an allowed folder.");
        var folder = cache.FolderOf(Passes.FolderName(passes.Id));
        using var usage = cache.Use(Passes.FolderName(passes.Id));
        var before = passes.Source;
        for (int number = 1; number <= passes.Count; number++)
        {
            var known = series.Passes.FirstOrDefault(pass => pass.Number == number);
            if (known is { Sound.IsUnchanged: true })
            {
                before = known.Sound;
                continue;
            }

            var (sound, failure) = await EncodeAsync(before, series.Target, Path.Combine(folder, string.Create(CultureInfo.InvariantCulture, $"{series.Id}-{number:00}{series.Target.Format.Extension}")), Progress(0, 0.5)).ConfigureAwait(false);
            if (sound is null)
                return ItemOutcome.Failed($"Pass {number}: {failure}");
            sound = sound with { Title = passes.Source.Title, Artist = passes.Source.Artist, Format = $"{sound.Format}, pass {number}" };
            var (original, problem) = await CompareAsync(passes.Source, sound, folder, spec, Progress(0.5, 0.25)).ConfigureAwait(false);
            var (previous, otherProblem) = original is null || number == 1 ? (original, problem) : await CompareAsync(before, sound, folder, spec, Progress(0.75, 0.25)).ConfigureAwait(false);
            if (original is null || previous is null)
                return ItemOutcome.Failed($"Pass {number}: {problem ?? otherProblem}");
            store.Save(series.Id, new PassRecord(number, sound, original, previous with { BandEdges = [], FirstSpectrum = [], SecondSpectrum = [], ResidueSpectrum = [] }));
            before = sound;

            Action<WorkerProgress> Progress(double from, double share)
            {
                int done = number - 1;
                return progress => context.Report(
                    (done + from + share * (progress.Total > 0 ? Math.Min(1, (double)progress.Done / progress.Total) : 0)) / passes.Count, string.Create(CultureInfo.InvariantCulture, $"Pass {done + 1}"));
            }
        }

        cache.Trim(Passes.FolderName(passes.Id));
        return ItemOutcome.Done(null);

        Task<WorkerReply> AskAsync(WorkerJob job, Action<WorkerProgress> onProgress) => workers.RunAsync(job, WorkerPriority.AskedFor, onProgress, cancellation);

        async Task<(ComparedSound? Sound, string? Failure)> EncodeAsync(ComparedSound source, Target target, string path, Action<WorkerProgress> onProgress)
        {
            if (await AskAsync(new ProbeJob(source.Path), _ => { }).ConfigureAwait(false) is not ProbeReply { Facts: var facts })
                return (null, $"{source.Path} cannot be read.");
            File.Delete(path);
            var route = RoutePlanner.Plan(facts, Fidelity.Exact, target);
            var reply = await AskAsync(new ConvertJob(source.Path, facts.Format, route.StepsBeforeEncoding(), target.Encoder, path, [], []), onProgress).ConfigureAwait(false);
            if (reply is not ConvertReply)
                return (null, reply.Failure);
            if (await AskAsync(new ProbeJob(path), _ => { }).ConfigureAwait(false) is not ProbeReply { Facts: var made })
                return (null, "The new file cannot be read.");
            return (new ComparedSound(null, path, "", "", made.ShortLabel, target.IsLossy ? Fidelity.Lossy : route.Fidelity, (long)made.Format.Duration(made.FrameCount).TotalMilliseconds) { Stamp = ComparedSound.StampOf(path) }, null);
        }

        async Task<(NullTestResult? Result, string? Failure)> CompareAsync(ComparedSound one, ComparedSound other, string inFolder, PassSpec of, Action<WorkerProgress> onProgress)
        {
            var sounds = Path.Combine(inFolder, string.Create(CultureInfo.InvariantCulture, $"compared-{of.SeriesId}"));
            try
            {
                // A level that changes from pass to pass is a part of what is looked for.
                var reply = await AskAsync(new CompareJob(one.Path, other.Path, sounds, MatchesLevel: false), onProgress).ConfigureAwait(false);
                return reply is CompareReply { Result: var result } ? (result, null) : (null, reply.Failure);
            }
            finally
            {
                if (Directory.Exists(sounds))
                    Directory.Delete(sounds, recursive: true);
            }
        }
    }

    public ItemDescription Describe(RunItemRow item)
    {
        var spec = PassSpec.Of(item);
        var series = store.Get(spec.PassesId)?.Series.FirstOrDefault(each => each.Id == spec.SeriesId);
        return new ItemDescription("Encoding", "Compared")
        {
            Detail = series is { Passes: [.., var last] } ? string.Create(CultureInfo.InvariantCulture, $"{series.Passes.Count} passes; {NullVerdict.InWords(last.Original, "the last")}") : "",
            OnFailure = "The passes before it are kept.",
        };
    }
}
