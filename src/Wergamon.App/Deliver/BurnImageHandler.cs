using System.Text.Json;
using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.Core.Audio;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Burning;
using Wergamon.Core.Naming;

namespace Wergamon.App.Deliver;

/// <summary>Writes the image of a disc, sectors and cue sheet, into a folder, and reads it back.</summary>
public sealed class BurnImageHandler(BurnedTracks tracks, RunStore runs, Placement placement) : IItemHandler
{
    /// <summary>Names the items.</summary>
    public const string ItemKind = "burn-image";

    private const int BlockSectors = 200;

    public string Kind => ItemKind;

    public Task<ItemOutcome> ExecuteAsync(RunItemRow item, ItemContext context, CancellationToken cancellation) => OwnThread.RunAsync(() => Write(item, context, cancellation));

    public ItemDescription Describe(RunItemRow item)
    {
        var made = BurnDiscResult.Of(item);
        return new("Writing", "Read back")
        {
            Detail = made is null ? "" : $"{made.Sums.Count} tracks, every sample equal",
            Path = made?.Path is { } path ? Path.GetFileName(path) : null,
            BytesAfter = made?.Bytes,
        };
    }

    private ItemOutcome Write(RunItemRow item, ItemContext context, CancellationToken cancellation)
    {
        var spec = BurnDiscSpec.Of(item);
        var folder = runs.Get(item.RunId)!.OutputFolder!;
        var layout = tracks.LayoutOf(item.RunId, spec);
        var name = SafeFileName.From(spec.Title, ".bin");
        var file = placement.Begin(Path.Combine(folder, name), item.Id);
        try
        {
            IReadOnlyList<uint> sums;
            using (var stream = new FileStream(file.TemporaryPath, FileMode.CreateNew, FileAccess.Write, FileShare.None, bufferSize: 1 << 16))
            {
                sums = tracks.Write(item.RunId, layout, stream.Write, share => context.Report(share / 2), cancellation);
                stream.Flush(flushToDisk: true);
            }

            var contents = layout.Contents(spec.Settings.CatalogueNumber);
            if (!sums.SequenceEqual(SumsOf(file.TemporaryPath, contents, share => context.Report(0.5 + share / 2, "Reading back"), cancellation)))
            {
                placement.Discard(file);
                return ItemOutcome.Failed("The image reads back differently from what was written. Check the disk.");
            }

            var image = placement.Publish(file, Path.Combine(folder, name));
            placement.Settle(file);
            var text = spec.Settings.HasText ? DiscImageWriter.TextOf(layout, spec.Title, spec.Settings.Artist) : DiscText.None;
            var sheet = Path.ChangeExtension(image, ".cue");
            placement.WriteWhole(sheet, CueSheetWriter.WriteBytes(DiscImageWriter.SheetOf(contents, text, Path.GetFileName(image))));
            return ItemOutcome.Done(JsonSerializer.Serialize(
                new BurnDiscResult(sums, layout.LeadOut, 0) { Path = sheet, Bytes = (long)layout.LeadOut * AudioDisc.BytesPerSector }, DeliverJson.Default.BurnDiscResult));
        }
        catch (UnreadableAudioException failure)
        {
            placement.Discard(file);
            return ItemOutcome.Failed(failure.Message);
        }
        catch
        {
            placement.Discard(file);
            throw;
        }
    }

    private static IReadOnlyList<uint> SumsOf(string path, TableOfContents contents, Action<double> report, CancellationToken cancellation)
    {
        var sums = new TrackSums(TrackSpan.Of(contents, Pauses.WithTrackBefore));
        using var stream = new FileStream(path, FileMode.Open, FileAccess.Read, FileShare.Read, bufferSize: 0);
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
