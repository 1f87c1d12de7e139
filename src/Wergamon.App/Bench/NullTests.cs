using System.Globalization;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.Core.Analysis.Comparing;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Jobs;

namespace Wergamon.App.Bench;

/// <summary>Null tests: starts them, and returns what can be seen and heard of them.</summary>
public sealed class NullTests(
    Database database, NullTestStore store, BenchCache cache, ComparedSounds sounds, LibraryQueries library, RunStore runs,
    RunScheduler scheduler)
{
    /// <summary>The runs that compare.</summary>
    public static readonly RunKind RunKind = new("null-test", Station.Bench, "Comparing", "compared")
    {
        Noun = "track",
        SaysSummary = run => $"{run.Purpose} compared",
        SaysHowItEnded = true
    };

    /// <summary>Names the folder of a test in the cache.</summary>
    internal static string FolderName(long id) => string.Create(CultureInfo.InvariantCulture, $"test-{id}");

    /// <summary>
    /// Compares two copies; returns the test, which may be an earlier one, or null when one of the files is missing.
    /// </summary>
    public long? Start(long firstCopyId, long secondCopyId, bool matchesLevel) =>
        sounds.Of(firstCopyId) is { } first && sounds.Of(secondCopyId) is { } second ? Start(first, second, matchesLevel) : null;

    /// <summary>Compares a copy with the one that it was made from, as A; null when one of the files is missing.</summary>
    public long? StartWithSource(long copyId) =>
        library.Copy(copyId) is { } copy
                && library.LineageOf(copy.TrackId).FirstOrDefault(line => line.CopyId == copyId) is { FromCopyId: { } source }
            ? Start(source, copyId, matchesLevel: true)
            : null;

    /// <summary>Compares any two files in allowed folders.</summary>
    /// <param name="first">A whole path as typed, as is <paramref name="second"/>.</param>
    /// <returns>The test, or why there is none.</returns>
    public async Task<(long? Id, string? Problem)> StartFilesAsync(
        string? first, string? second, bool matchesLevel, CancellationToken cancellation)
    {
        var (one, problem) = await sounds.OfAsync(first, cancellation).ConfigureAwait(false);
        if (one is null)
            return (null, problem);
        var (other, otherProblem) = await sounds.OfAsync(second, cancellation).ConfigureAwait(false);
        return other is null
            ? (null, otherProblem)
            : one.Path == other.Path
            ? (null, "Choose two different files.")
            : (Start(one, other, matchesLevel), null);
    }

    /// <summary>Repeats a test whose files have changed, or whose sounds are no longer kept.</summary>
    public void Again(long id)
    {
        if (store.Get(id) is not { } test || test.RunId is { } run && runs.Get(run) is { State: not RunState.Done })
            return;
        Run(test.First, test.Second, _ => id);
    }

    public void Remove(long id)
    {
        if (store.Get(id) is { RunId: { } run } && runs.Get(run) is { State: not RunState.Done })
            scheduler.GiveUp(run);
        store.Remove(id);
        cache.Remove(FolderName(id));
    }

    /// <summary>Both sounds of a test; null when they are no longer kept.</summary>
    public AlignedSound? Open(NullTestRecord test)
    {
        if (test.Result is not { } result)
            return null;
        WavSamples? first = null, second = null;
        try
        {
            first = OpenSamples(test.Id, ComparedFiles.First);
            second = OpenSamples(test.Id, ComparedFiles.Second);
            return new AlignedSound(first, second, -(result.Place?.FirstFrame ?? 0), result.Gain);
        }
        catch (Exception gone) when (gone is IOException or UnreadableAudioException)
        {
            first?.Dispose();
            second?.Dispose();
            return null;
        }
    }

    /// <summary>A stretch of all three waveforms; see <see cref="PairWaveform.Read"/>. Null when they are no longer kept.</summary>
    public float[]? Waveform(NullTestRecord test, double from, double to, int columns)
    {
        try
        {
            using var file = OpenFile(test.Id, ComparedFiles.Waveform);
            return PairWaveform.Read(file, from, to, columns);
        }
        catch (Exception gone) when (gone is IOException or InvalidDataException)
        {
            return null;
        }
    }

    internal long Start(ComparedSound first, ComparedSound second, bool matchesLevel)
    {
        if (store.Find(first, second, matchesLevel) is { } known)
            return known.Id;
        return Run(first, second, connection => store.Insert(connection, first, second, matchesLevel));
    }

    private long Run(ComparedSound first, ComparedSound second, Func<System.Data.IDbConnection, long> idOf)
    {
        long test = database.Change(connection =>
        {
            long id = idOf(connection);
            long runId = runs.Insert(connection, new NewRun(RunKind, first.Title, $"{first.Format} and {second.Format}", null));
            NullTestStore.SetRun(connection, id, runId);
            RunStore.InsertItem(
                connection, runId, 0,
                NullTestHandler.ItemKind.New(Lane.Worker, first.Title, first.LengthMs + second.LengthMs, new NullTestSpec(id)) with
                {
                    CopyIds = [.. new[] { first.CopyId, second.CopyId }.OfType<long>().Distinct()],
                });
            return id;
        });
        return test;
    }

    private WavSamples OpenSamples(long id, string name)
    {
        var stream = OpenFile(id, name);
        try
        {
            return new WavSamples(stream);
        }
        catch
        {
            stream.Dispose();
            throw;
        }
    }

    private FileStream OpenFile(long id, string name)
    {
        var folder = FolderName(id);
        var stream = PlainFile.Open(Path.Combine(cache.FolderOf(folder), name), FileMode.Open, FileAccess.Read, bufferSize: 0);
        cache.Touch(folder);
        return stream;
    }
}
