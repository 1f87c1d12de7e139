using System.Globalization;
using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.App.Tracks;
using Wergamon.App.Workers;

namespace Wergamon.App.Sets;

/// <summary>Analyses the music of copies: tempo, key and the components of energy.</summary>
public sealed class MusicHandler(WorkerPool workers, LibraryQueries library, AllowedPaths allowed, MusicReader music)
    : ItemHandler<MusicSpec>(ItemKind)
{
    public static readonly ItemKind<MusicSpec, MusicResult> ItemKind = new(
        "music", () => SetsJson.Default.MusicSpec, () => SetsJson.Default.MusicResult);

    protected override async Task<ItemOutcome> ExecuteAsync(
        RunItemRow item, MusicSpec spec, ItemContext context, CancellationToken cancellation)
    {
        if (library.Copy(spec.CopyId) is not { IsMissing: false } copy || !allowed.MayRead(copy.Path))
            return ItemOutcome.Skipped("This file is missing or in the trash.");
        var reading = await music.ReadAsync(copy.Id, copy.Path, job => workers.RunAsync(
            job, WorkerPriority.Requested,
            progress => context.Report(progress.Total > 0 ? Math.Min(1, (double)progress.Done / progress.Total) : 0),
            cancellation)).ConfigureAwait(false);
        return reading is null ? ItemOutcome.Failed("The file changed while it was being read. Scan its folder, then analyse it again.")
            : reading.Analysis is { } analysis ? ItemKind.Done(MusicResult.Of(analysis))
            : ItemOutcome.Failed(reading.Failure!);
    }

    protected override ItemDescription Describe(RunItemRow item, MusicSpec spec) => new("Analysing", "Analysed")
    {
        CopyId = spec.CopyId,
        Detail = ItemKind.ResultOf(item) is { } found
            ? $"{(found.Tempo is { } tempo ? tempo.ToString("0.00", CultureInfo.InvariantCulture) + " BPM" : "no beat found")}, "
                + $"{found.Key ?? "no key found"}"
            : "",
        OnFailure = "Nothing was changed.",
    };
}
