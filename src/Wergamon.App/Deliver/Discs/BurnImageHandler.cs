using System.Text.Json;
using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.Core.Audio;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Burning;
using Wergamon.Core.Naming;

namespace Wergamon.App.Deliver.Discs;

/// <summary>Writes the image of a disc, sectors and cue sheet, into a folder, and reads it back.</summary>
public sealed class BurnImageHandler(BurnedTracks tracks, RunStore runs, Placement placement) : ItemHandler<BurnDiscSpec>(ItemKind)
{
    public static readonly ItemKind<BurnDiscSpec, BurnDiscResult> ItemKind = new(
        "burn-image", () => DiscRunsJson.Default.BurnDiscSpec, () => DiscRunsJson.Default.BurnDiscResult);

    private const string SheetExtension = ".cue";

    private const int BlockSectors = 200;

    protected override Task<ItemOutcome> ExecuteAsync(
        RunItemRow item, BurnDiscSpec spec, ItemContext context, CancellationToken cancellation) =>
        DedicatedThread.RunAsync(() => Write(item, spec, context, cancellation));

    protected override ItemDescription Describe(RunItemRow item, BurnDiscSpec spec)
    {
        var made = ItemKind.ResultOf(item);
        return new("Writing", "Read back")
        {
            Detail = made is null ? "" : $"{made.Sums.Count} tracks, every sample equal",
            Path = made?.Path is { } path ? Path.GetFileName(path) : null,
            BytesAfter = made?.Bytes,
        };
    }

    private ItemOutcome Write(RunItemRow item, BurnDiscSpec spec, ItemContext context, CancellationToken cancellation)
    {
        var folder = runs.Get(item.RunId)!.OutputFolder!;
        var layout = tracks.LayoutOf(item.RunId, spec);
        var name = SafeFileName.From(spec.Title, ".bin");
        var file = placement.Begin(Path.Combine(folder, name), item.Id);
        try
        {
            IReadOnlyList<uint> sums;
            using (var stream = PlainFile.Open(file.TemporaryPath, FileMode.CreateNew, FileAccess.Write, bufferSize: 1 << 16))
            {
                sums = tracks.Write(item.RunId, layout, stream.Write, share => context.Report(share / 2), cancellation);
                stream.Flush(flushToDisk: true);
            }

            var contents = layout.Contents(spec.Settings.CatalogueNumber);
            if (!sums.SequenceEqual(
                SumsOf(file.TemporaryPath, contents, share => context.Report(0.5 + share / 2, "Reading back"), cancellation)))
            {
                placement.Discard(file);
                return ItemOutcome.Failed("The image reads back differently from what was written. Check the disk.");
            }

            var image = placement.Publish(file, Path.Combine(folder, name), companion: SheetExtension);
            return Finish(item, spec, layout, sums, file, image);
        }
        catch (UnreadableAudioException failure)
        {
            placement.Discard(file);
            return ItemOutcome.Failed(failure.Message);
        }
        catch (Exception failure)
        {
            placement.Discard(file);
            if (failure is IOException)
                DestinationWait.StopIfFull(folder, (long)layout.LeadOut * AudioDisc.BytesPerSector);
            throw;
        }
    }

    /// <summary>An image that has its name gets its cue sheet; anything before that starts over.</summary>
    protected override Task<ItemOutcome?> RecoverAsync(
        RunItemRow item, BurnDiscSpec spec, CancellationToken cancellation) => DedicatedThread.RunAsync(() =>
    {
        if (item.Checkpoint is { } result)
            return ItemOutcome.Done(result);
        if (placement.FindOf(item.Id) is not { FinalPath: { } image } found || PlainFile.Exists(found.File.TemporaryPath)
            || !PlainFile.Exists(image))
            return null;
        var layout = tracks.LayoutOf(item.RunId, spec);
        return Finish(
            item, spec, layout, SumsOf(image, layout.Contents(spec.Settings.CatalogueNumber), _ => { }, cancellation), found.File, image);
    });

    private ItemOutcome Finish(RunItemRow item, BurnDiscSpec spec, DiscLayout layout, IReadOnlyList<uint> sums, NewFile file, string image)
    {
        var text = spec.Settings.HasText ? DiscImageWriter.TextOf(layout, spec.Title, spec.Settings.Artist) : DiscText.None;
        var sheet = placement.WriteCompanion(
            Path.ChangeExtension(image, SheetExtension),
            CueSheetWriter.WriteBytes(
                DiscImageWriter.SheetOf(layout.Contents(spec.Settings.CatalogueNumber), text, Path.GetFileName(image))));
        var result = JsonSerializer.Serialize(
            new BurnDiscResult(sums, layout.LeadOut, 0) { Path = sheet, Bytes = (long)layout.LeadOut * AudioDisc.BytesPerSector },
            DiscRunsJson.Default.BurnDiscResult);
        // Known from now on, whether the end of the item is recorded or not.
        runs.SetCheckpoint(item.Id, result);
        placement.Settle(file);
        return ItemOutcome.Done(result);
    }

    private static IReadOnlyList<uint> SumsOf(string path, TableOfContents contents, Action<double> report, CancellationToken cancellation)
    {
        var sums = new TrackSums(TrackSpan.Of(contents, Pauses.WithTrackBefore));
        using var stream = PlainFile.Open(path, FileMode.Open, FileAccess.Read, bufferSize: 0);
        var block = new byte[BlockSectors * AudioDisc.BytesPerSector];
        for (int got; (got = stream.Read(block)) > 0;)
        {
            cancellation.ThrowIfCancellationRequested();
            sums.Append(block.AsSpan(0, got));
            report((double)stream.Position / stream.Length);
        }

        return sums.Sums;
    }
}
