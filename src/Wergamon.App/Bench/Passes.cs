using System.Globalization;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.Core.Planning;

namespace Wergamon.App.Bench;

/// <summary>Encodes a copy repeatedly and measures what each generation loses.</summary>
public sealed class Passes(
    Database database, PassStore store, BenchCache cache, NullTests tests, ComparedSounds sounds, RunStore runs, RunScheduler scheduler)
{
    /// <summary>The runs that measure generation loss.</summary>
    public static readonly RunKind RunKind = new("passes", Station.Bench, "Encoding", "compared")
    {
        SaysSummary = run => $"{run.Purpose} with {run.CountResults("target")}",
        SaysHowItEnded = true
    };

    public const int MaxCount = 32;

    /// <summary>Targets beside one another.</summary>
    public const int MaxTargets = 6;

    internal static string FolderName(long id) => string.Create(CultureInfo.InvariantCulture, $"passes-{id}");

    /// <param name="count">Passes with each target, from 1 to <see cref="MaxCount"/>.</param>
    /// <returns>Null when the file is missing, or nothing is requested.</returns>
    public long? Start(long copyId, IReadOnlyList<Target> targets, int count)
    {
        if (targets.Count is 0 or > MaxTargets || count is < 1 or > MaxCount || sounds.Of(copyId) is not { } source)
            return null;
        // Everything that a target does besides encoding would be repeated in each pass.
        var plain = targets.Select(target => target with { Level = null, Fade = null, TrimsSilence = false, EncodesAgain = true }).ToList();
        return database.Change(connection =>
        {
            var (passes, series) = store.Insert(connection, source, count, plain);
            Run(connection, passes, source, [.. plain.Zip(series, (target, seriesId) => (target, seriesId))], count);
            return passes;
        });
    }

    /// <summary>Makes passes that are no longer kept again.</summary>
    public void Again(long id)
    {
        if (store.Get(id) is not { } passes || passes.RunId is { } run && runs.Get(run) is { State: not RunState.Done })
            return;
        database.Change(connection =>
        {
            PassStore.Clear(connection, id);
            Run(connection, id, passes.Source, [.. passes.Series.Select(series => (series.Target, series.Id))], passes.Count);
        });
    }

    /// <summary>
    /// Compares a pass with the original or with another pass on the page; null when one of them is no longer kept.
    /// </summary>
    /// <param name="against">The number of the other pass; 0 for the original.</param>
    public long? Compare(long id, long seriesId, int number, int against)
    {
        if (store.Get(id) is not { } passes || passes.Series.FirstOrDefault(series => series.Id == seriesId) is not { } series)
            return null;
        var first = against == 0 ? passes.Source : series.Passes.FirstOrDefault(pass => pass.Number == against)?.Sound;
        var second = series.Passes.FirstOrDefault(pass => pass.Number == number)?.Sound;
        if (first is not { IsUnchanged: true } || second is not { IsUnchanged: true })
            return null;
        cache.Touch(FolderName(id));
        return tests.Start(first, second, matchesLevel: false);
    }

    public void Remove(long id)
    {
        if (store.Get(id) is { RunId: { } run } && runs.Get(run) is { State: not RunState.Done })
            scheduler.GiveUp(run);
        store.Remove(id);
        cache.Remove(FolderName(id));
    }

    private void Run(
        System.Data.IDbConnection connection, long id, ComparedSound source, IReadOnlyList<(Target Target, long SeriesId)> series,
        int count)
    {
        long runId = runs.Insert(
            connection, new NewRun(RunKind, source.Title, string.Create(CultureInfo.InvariantCulture, $"{count} passes"), null));
        PassStore.SetRun(connection, id, runId);
        for (int i = 0; i < series.Count; i++)
        {
            RunStore.InsertItem(
                connection, runId, i,
                PassHandler.ItemKind.New(
                    Lane.Worker, series[i].Target.Name, source.LengthMs * count, new PassSpec(id, series[i].SeriesId)) with
                {
                    CopyIds = source.CopyId is { } copy ? [copy] : [],
                });
        }
    }
}
