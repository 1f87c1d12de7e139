using System.IO.Hashing;
using System.Text.Json;
using Wergamon.App.Copies;
using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Burning;
using Wergamon.Core.Discs.Iso9660;
using Wergamon.Core.Naming;
using Wergamon.Devices.Burners;

namespace Wergamon.App.Deliver.Discs;

/// <summary>A track as a playlist names it.</summary>
public sealed record ListedTrack(string Title, string Artist, double Seconds);

/// <summary>A disc of files to be written.</summary>
public sealed record DataDiscSpec(string Title, IReadOnlyList<ListedTrack> Tracks, DataDiscSettings Settings);

/// <param name="Path">The image; null for a disc.</param>
public sealed record DataDiscResult(int Files, long Bytes, string? Path);

/// <summary>A data disc that was written and is to be read back.</summary>
/// <param name="Sum">Of all that was written.</param>
internal sealed record WrittenDataDisc(string Key, byte[] Sum);

/// <summary>Writes the files of a run as a data disc, to a burner or to an image, and reads every byte back.</summary>
public sealed class DataDiscHandler(BurnerBay bay, DeliverySpool spool, RunStore runs, Placement placement, TimeProvider time)
    : ItemHandler<DataDiscSpec>(ItemKind)
{
    public static readonly ItemKind<DataDiscSpec, DataDiscResult> ItemKind = new(
        "data-disc", () => DiscRunsJson.Default.DataDiscSpec, () => DiscRunsJson.Default.DataDiscResult);

    private const int BlockBytes = 1 << 18;

    protected override Task<ItemOutcome> ExecuteAsync(
        RunItemRow item, DataDiscSpec spec, ItemContext context, CancellationToken cancellation) =>
        DedicatedThread.RunAsync(() => Write(item, spec, context, cancellation));

    protected override ItemDescription Describe(RunItemRow item, DataDiscSpec spec)
    {
        var made = ItemKind.ResultOf(item);
        return new("Writing", "Read back")
        {
            Detail = made is null
                ? ""
                : string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{made.Files} files, every byte equal"),
            Path = made?.Path is { } path ? Path.GetFileName(path) : null,
            BytesAfter = made?.Bytes,
        };
    }

    private ItemOutcome Write(RunItemRow item, DataDiscSpec spec, ItemContext context, CancellationToken cancellation)
    {
        var sources = SourcesOf(item.RunId, spec);
        long sectors = IsoWriter.SectorsOf(sources);
        var output = runs.Get(item.RunId)!.OutputFolder;
        try
        {
            return output is null
                ? Burn(spec, sources, sectors, context, cancellation)
                : WriteImage(item, spec, output, sources, context, cancellation);
        }
        catch (BurnFailedException failure)
        {
            throw new RunStoppedException(
                $"{failure.Message} "
                    + $"{(failure.IsDiscSpoiled ? "The disc is spoiled: put another one in, then continue." : "Continue to try again.")}",
                failure);
        }
        catch (UnreadableDiscException failure)
        {
            throw new RunStoppedException(failure.Message, failure);
        }
    }

    private ItemOutcome Burn(
        DataDiscSpec spec, IReadOnlyList<IsoSource> sources, long sectors, ItemContext context, CancellationToken cancellation)
    {
        var burner = bay.Burner(spec.Settings.Burner) ?? throw new RunStoppedException($"Burner {spec.Settings.Burner} no longer exists.");
        if (burner.Disc is not { CanBeWritten: true } disc)
            throw new RunStoppedException(
                $"There is no disc that can be written on in {burner.Traits.Name}. Put a blank one in, then continue.");
        if (sectors > disc.Blank.Sectors)
            throw new RunStoppedException(string.Create(System.Globalization.CultureInfo.InvariantCulture,
                $"The files take {sectors * DiscBlank.BytesPerDataSector / 1_000_000:N0} MB, the disc has room for "
                    + $"{disc.Blank.DataBytes / 1_000_000:N0} MB. Put a larger one in and continue, or leave tracks out and start "
                    + $"again."));
        var order = new BurnOrder(
            spec.Title, new TableOfContents([new DiscTrack(1, IsAudio: false, 0)], (int)sectors), DiscText.None,
            spec.Settings.Speed)
        { BytesPerSector = DiscBlank.BytesPerDataSector };
        byte[] sum = [];
        bay.Write(burner, order, session =>
        {
            sum = WriteTo(session.Write, spec, sources, sectors, context, cancellation);
            context.Checkpoint(JsonSerializer.Serialize(new WrittenDataDisc(session.Key!, sum), DiscRunsJson.Default.WrittenDataDisc));
        });
        return ReadBack(burner, sum, sources, share => ReportReading(context, share), cancellation);
    }

    private ItemOutcome ReadBack(
        IDiscBurner burner, byte[] sum, IReadOnlyList<IsoSource> sources, Action<double> report, CancellationToken cancellation)
    {
        using (var written = burner.OpenData())
        {
            if (!sum.AsSpan().SequenceEqual(SumOf(written, report, cancellation)))
                return ItemOutcome.Failed("The disc reads back differently from what was written. Burn another disc.");
        }

        bay.Eject(burner.Letter);
        return Done(sources, IsoWriter.SectorsOf(sources), null);
    }

    private ItemOutcome WriteImage(
        RunItemRow item, DataDiscSpec spec, string folder, List<IsoSource> sources, ItemContext context, CancellationToken cancellation)
    {
        long sectors = IsoWriter.SectorsOf(sources);
        var wanted = Path.Combine(folder, SafeFileName.From(spec.Title, ".iso"));
        var file = placement.Begin(wanted, item.Id);
        try
        {
            byte[] sum;
            using (var stream = PlainFile.Open(file.TemporaryPath, FileMode.CreateNew, FileAccess.Write, bufferSize: 1 << 16))
            {
                sum = WriteTo(stream.Write, spec, sources, sectors, context, cancellation);
                stream.Flush(flushToDisk: true);
            }

            using (var written = PlainFile.OpenRead(file.TemporaryPath))
            {
                if (!sum.AsSpan().SequenceEqual(SumOf(written, share => ReportReading(context, share), cancellation)))
                {
                    placement.Discard(file);
                    return ItemOutcome.Failed("The image reads back differently from what was written. Check the disk.");
                }
            }

            return Finish(item, sources.Count, sectors, file, placement.Publish(file, wanted));
        }
        catch (Exception failure)
        {
            placement.Discard(file);
            if (failure is IOException)
                DestinationWait.StopIfFull(folder, sectors * DiscBlank.BytesPerDataSector);
            throw;
        }
    }

    /// <summary>
    /// An image that has its name is done, a disc that was finished is read back; anything before that starts over.
    /// </summary>
    protected override Task<ItemOutcome?> RecoverAsync(
        RunItemRow item, DataDiscSpec spec, CancellationToken cancellation) => DedicatedThread.RunAsync(() =>
    {
        if (runs.Get(item.RunId)!.OutputFolder is null)
            return RecoverDisc(item, spec, cancellation);
        if (item.Checkpoint is { } result)
            return ItemOutcome.Done(result);
        if (placement.FindOf(item.Id) is not { FinalPath: { } image } found || PlainFile.Exists(found.File.TemporaryPath)
            || !PlainFile.Exists(image))
            return null;
        var sources = SourcesOf(item.RunId, spec);
        return Finish(item, sources.Count, IsoWriter.SectorsOf(sources), found.File, image);
    });

    private ItemOutcome? RecoverDisc(RunItemRow item, DataDiscSpec spec, CancellationToken cancellation) =>
        item.Checkpoint is { } text && JsonSerializer.Deserialize(text, DiscRunsJson.Default.WrittenDataDisc) is { } before
            && bay.Burner(spec.Settings.Burner) is { } burner && burner.Disc?.WrittenKey == before.Key
            ? ReadBack(burner, before.Sum, SourcesOf(item.RunId, spec), _ => { }, cancellation)
            : null;

    private ItemOutcome Finish(RunItemRow item, int files, long sectors, NewFile file, string path)
    {
        var result = JsonSerializer.Serialize(
            new DataDiscResult(files, sectors * DiscBlank.BytesPerDataSector, path), DiscRunsJson.Default.DataDiscResult);
        // Known from now on, whether the end of the item is recorded or not.
        runs.SetCheckpoint(item.Id, result);
        placement.Settle(file);
        return ItemOutcome.Done(result);
    }

    private static ItemOutcome Done(IReadOnlyList<IsoSource> sources, long sectors, string? path) =>
        ItemKind.Done(new DataDiscResult(sources.Count, sectors * DiscBlank.BytesPerDataSector, path));

    /// <summary>The files of the run in order, and the playlist of them.</summary>
    private List<IsoSource> SourcesOf(long runId, DataDiscSpec spec)
    {
        var folder = spool.FolderOf(runId);
        var sources = runs.Items(runId).Where(DeliverFileHandler.ItemKind.Is).Select(item => CopyResult.Of(item)!.Path)
            .Select(path => new IsoSource(Path.GetRelativePath(folder, path), PlainFile.Length(path), () => PlainFile.OpenRead(path)))
                .ToList();
        if (spec.Settings.HasPlaylist)
            sources.Add(DataDiscPlaylist.For(spec.Title, sources.Select(source => source.Path).Zip(spec.Tracks)));
        return sources;
    }

    private byte[] WriteTo(
        SectorSink sink, DataDiscSpec spec, IReadOnlyList<IsoSource> sources, long sectors, ItemContext context,
        CancellationToken cancellation)
    {
        var sum = new XxHash128();
        using var stream = new SinkStream(bytes =>
        {
            cancellation.ThrowIfCancellationRequested();
            sink(bytes);
            sum.Append(bytes);
        }, written => context.Report((double)written / (2 * sectors * DiscBlank.BytesPerDataSector), "Writing"));
        IsoWriter.Write(stream, spec.Title, sources, time.GetUtcNow());
        return sum.GetCurrentHash();
    }

    private static void ReportReading(ItemContext context, double share) => context.Report(0.5 + 0.5 * share, "Reading back");

    private static byte[] SumOf(Stream written, Action<double> report, CancellationToken cancellation)
    {
        var sum = new XxHash128();
        var block = new byte[BlockBytes];
        long at = 0;
        for (int got; (got = written.Read(block)) > 0;)
        {
            cancellation.ThrowIfCancellationRequested();
            sum.Append(block.AsSpan(0, got));
            at += got;
            report((double)at / written.Length);
        }

        return sum.GetCurrentHash();
    }

    /// <summary>Hands on what is written, and counts it.</summary>
    private sealed class SinkStream(SectorSink sink, Action<long> report) : Stream
    {
        private long _written;

        public override bool CanRead => false;

        public override bool CanSeek => false;

        public override bool CanWrite => true;

        public override long Length => _written;

        public override long Position
        {
            get => _written;
            set => throw new NotSupportedException();
        }

        public override void Write(ReadOnlySpan<byte> buffer)
        {
            sink(buffer);
            _written += buffer.Length;
            report(_written);
        }

        public override void Write(byte[] buffer, int offset, int count) => Write(buffer.AsSpan(offset, count));

        public override void Flush()
        {
        }

        public override int Read(byte[] buffer, int offset, int count) => throw new NotSupportedException();

        public override long Seek(long offset, SeekOrigin origin) => throw new NotSupportedException();

        public override void SetLength(long value) => throw new NotSupportedException();
    }
}
