using System.Text.Json;
using Dapper;
using Wergamon.App.Copies;
using Wergamon.App.Files;
using Wergamon.App.Library.Removing;
using Wergamon.App.Library.Scan;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Tags;

namespace Wergamon.App.Intake;

/// <summary>
/// Writes the names and pictures of a disc into a copy made from it: new tags, the audio byte for byte and compared. The file is
/// renamed only if it is still where the rip had put it.
/// </summary>
public sealed class RenameHandler(
    Database database, DiscStore discs, FileScanner scanner, LibraryWriter writer, Placement placement, Trash trash, Signals signals)
    : ItemHandler<RenameSpec>(ItemKind)
{
    public static readonly ItemKind<RenameSpec> ItemKind = new("rename-copy", () => IntakeJson.Default.RenameSpec);

    protected override async Task<ItemOutcome> ExecuteAsync(
        RunItemRow item, RenameSpec spec, ItemContext context, CancellationToken cancellation)
    {
        if (Find(spec.CopyId) is not { IsTrashed: false } copy || !PlainFile.Exists(copy.Path))
            return ItemOutcome.Skipped("This copy is in the trash or missing; it was left unchanged.");
        var disc = discs.Get(spec.DiscId)!;
        if (TagsWith(copy.Path, RipJobs.TagsOf(disc, spec.DiscTrack), discs.PicturesOf(spec.DiscId)) is not { } tags)
            return ItemOutcome.Done(null);
        var wanted = WantedPath(copy, tags);
        var file = placement.Begin(wanted, item.Id);
        try
        {
            Write(copy.Path, file.TemporaryPath, tags);
        }
        catch
        {
            placement.Discard(file);
            throw;
        }

        var path = wanted;
        if (wanted == copy.Path)
            placement.Replace(file, wanted);
        else
            path = placement.Publish(file, wanted);
        return await RecordAsync(copy, path, file, spec).ConfigureAwait(false);
    }

    /// <summary>A file that has its new name is recorded; anything before that starts over.</summary>
    protected override async Task<ItemOutcome?> RecoverAsync(RunItemRow item, RenameSpec spec, CancellationToken cancellation)
    {
        if (placement.FindOf(item.Id) is not { FinalPath: { } path } found || PlainFile.Exists(found.File.TemporaryPath)
            || !PlainFile.Exists(path) || Find(spec.CopyId) is not { } copy)
            return null;
        return await RecordAsync(copy, path, found.File, spec).ConfigureAwait(false);
    }

    protected override ItemDescription Describe(RunItemRow item, RenameSpec spec) =>
        new("Writing names", "Renamed") { OnFailure = "The copy is unchanged." };

    private async Task<ItemOutcome> RecordAsync(MadeCopy copy, string path, NewFile file, RenameSpec spec)
    {
        // The file has its new name, which is recorded even if the run is stopped now.
        var scanned = await scanner.ScanAsync(path, CancellationToken.None).ConfigureAwait(false);
        database.Change(connection =>
        {
            connection.Execute("UPDATE copy SET path = @path WHERE id = @Id", new { path, copy.Id });
            if (copy.Result is { } result)
            {
                var moved = JsonSerializer.Serialize(
                    JsonSerializer.Deserialize(result, CopiesJson.Default.CopyResult)! with { Path = path },
                    CopiesJson.Default.CopyResult);
                connection.Execute(
                    "UPDATE run_item SET result = @moved, title = @title WHERE id = @ItemId",
                    new { moved, title = scanned.Tags.First(FieldNames.Title) ?? "", copy.ItemId });
            }

            if (scanned.Facts is not null)
                writer.SaveRenamed(connection, copy.Id, scanned);
        });
        if (path != copy.Path && PlainFile.Exists(copy.Path))
            RemoveOld(copy.Path, spec.DiscTrack == RipStore.WholeDisc);
        placement.Settle(file);
        signals.Send(new Signal(Signal.Library));
        return ItemOutcome.Done(null);
    }

    /// <summary>
    /// The tags of a file updated with the names of the disc, as its format stores them; null if they are the same already.
    /// </summary>
    private static TagSet? TagsWith(string path, TagSet names, IReadOnlyList<Picture> pictures)
    {
        TagSet tags, wanted = new();
        TagDialect? dialect;
        using (var stream = PlainFile.OpenRead(path))
        {
            tags = FileReading.ReadTags(stream).Tags;
            dialect = (FileFormats.Of(stream) as WritableFormat)?.Dialect;
        }

        wanted.AddMissing(tags);
        foreach (var name in DiscRenames.FieldsOfDisc)
            wanted.Set(name, names[name]);
        if (pictures.Count > 0)
        {
            wanted.Pictures.Clear();
            foreach (var picture in pictures)
                wanted.Pictures.Add(picture);
        }

        wanted = dialect?.Select(wanted) ?? wanted;
        bool isSame = DiscRenames.FieldsOfDisc.All(name => tags[name].SequenceEqual(wanted[name]))
            && tags.Pictures.SequenceEqual(wanted.Pictures);
        return isSame ? null : wanted;
    }

    /// <summary>A file that the person has moved stays where it is.</summary>
    private static string WantedPath(MadeCopy copy, TagSet tags)
    {
        if (copy.Spec is null || copy.Result is null
            || JsonSerializer.Deserialize(copy.Result, CopiesJson.Default.CopyResult)!.Path != copy.Path)
            return copy.Path;
        var spec = JsonSerializer.Deserialize(copy.Spec, CopiesJson.Default.CopySpec)!;
        return Path.Combine(spec.OutputFolder, RipJobs.PathFor(tags, spec, Path.GetExtension(copy.Path)));
    }

    private static void Write(string from, string temporary, TagSet tags)
    {
        using var source = PlainFile.OpenRead(from);
        using var target = PlainFile.Open(temporary, FileMode.CreateNew, FileAccess.ReadWrite);
        if (FileFormats.Of(source) is not WritableFormat format)
            throw new UnreadableAudioException("Tags cannot be written to files of this format.");
        format.RewriteTags(source, target, tags);
        target.Flush(flushToDisk: true);
        if (format.Verify(target, format.HashSound(source), tags) is { } fault)
            throw new IOException(fault);
    }

    /// <summary>Removes the copy under its old name once the new one is proved; what the rip wrote beside it goes to the trash.</summary>
    private void RemoveOld(string path, bool hasCueSheet)
    {
        Placement.Remove(path);
        var sheet = Path.ChangeExtension(path, ".cue");
        if (hasCueSheet && PlainFile.Exists(sheet))
            trash.TakeReplaced(sheet);
        var folder = Path.GetDirectoryName(path)!;
        if (PlainFolder.Exists(folder) && PlainFolder.Entries(folder) is [var report]
            && report.EndsWith(RipReports.ReportEnding, StringComparison.Ordinal))
            trash.TakeReplaced(report);
        Placement.RemoveEmptyFolder(folder);
    }

    private MadeCopy? Find(long copyId)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<MadeCopy>(
            "SELECT c.id, c.path, c.is_trashed, i.id AS item_id, i.spec, i.result FROM copy c LEFT JOIN lineage l ON l.copy_id = c.id "
                + "LEFT JOIN run_item i ON i.id = l.run_item_id WHERE c.id = @copyId",
            new { copyId });
    }

    private sealed record MadeCopy
    {
        public long Id { get; init; }

        public string Path { get; init; } = "";

        public bool IsTrashed { get; init; }

        public long? ItemId { get; init; }

        public string? Spec { get; init; }

        public string? Result { get; init; }
    }
}
