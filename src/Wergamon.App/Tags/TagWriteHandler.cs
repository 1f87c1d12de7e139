using System.Data;
using Dapper;
using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Tags;

namespace Wergamon.App.Tags;

/// <summary>Writes changed tags, pictures and names into the file of a copy.</summary>
public sealed class TagWriteHandler(Database database, TagFile files, TagRecord record, TagUndo undo) : ItemHandler<TagWriteSpec>(ItemKind)
{
    public static readonly ItemKind<TagWriteSpec, TagWriteResult> ItemKind = new(
        "write-tags", () => TagsJson.Default.TagWriteSpec, () => TagsJson.Default.TagWriteResult);

    protected override async Task<ItemOutcome> ExecuteAsync(
        RunItemRow item, TagWriteSpec spec, ItemContext context, CancellationToken cancellation)
    {
        if (record.Find(spec.CopyId, item.Id) is not { } file)
            return ItemOutcome.Skipped("This file is missing or in the trash; nothing was changed.");
        if (record.IsFinished(item.Id))
            return ItemKind.Done(new TagWriteResult(file.Path, true, 0, []));
        var pictures = spec.Pictures is null ? null : Load(spec.Pictures);
        var written = await Task.Run(() => Write(file.Path, item.Id, spec, pictures), cancellation).ConfigureAwait(false);
        file = record.Rename(item.Id, file, spec.NewPath);
        await record.SaveAsync(spec.CopyId, item.Id, file, Words(spec)).ConfigureAwait(false);
        return ItemKind.Done(new TagWriteResult(file.Path, written.IsInPlace, written.Bytes, written.Lost));
    }

    /// <summary>An interrupted write is undone and starts over.</summary>
    protected override Task<ItemOutcome?> RecoverAsync(RunItemRow item, TagWriteSpec spec, CancellationToken cancellation)
    {
        if (record.Find(spec.CopyId, item.Id) is { } file)
            files.Restore(file.Path, item.Id);
        return Task.FromResult<ItemOutcome?>(null);
    }

    protected override ItemDescription Describe(RunItemRow item, TagWriteSpec spec)
    {
        var result = ItemKind.ResultOf(item);
        return new ItemDescription("Writing tags", "Written")
        {
            Detail = result is null ? "" : string.Join("; ", [Words(spec), .. result.Lost.Select(name => $"no place for {name}")]),
            Path = result?.Path,
            CopyId = spec.CopyId,
            OnFailure = "The file is unchanged.",
        };
    }

    private (bool IsInPlace, long Bytes, IReadOnlyList<string> Lost) Write(
        string path, long itemId, TagWriteSpec spec, List<Picture>? pictures)
    {
        if (files.IsWritten(path, itemId))
            return (IsInPlace: true, 0, []);
        RefuseExchanged(path, itemId, spec);
        if (spec.Fields.Count == 0 && pictures is null)
        {
            KeepNothing(path, itemId, spec.CopyId);
            return (true, 0, []);
        }

        TaggedFormat format;
        TagEdit edit;
        TagSet wanted, held;
        using (var stream = TagFile.OpenRead(path))
        {
            format = FileFormats.Of(stream) as TaggedFormat
                ?? throw new UnreadableAudioException(
                    "Tags cannot be written to files of this format. A copy in FLAC, M4A or MP3 can hold them.");
            var reading = FileReading.ReadTags(stream);
            if (reading.Damage.Count > 0 && !spec.DropsUnreadable)
                throw new IOException(
                    $"Not all of its tags can be read, and writing would remove the others, so nothing was written. {reading.Damage[0]} "
                        + "To write anyway, tick that on the review page.");
            wanted = Changed(reading.Tags, spec, pictures);
            held = format.Dialect.Select(wanted);
            edit = format.EditTags(stream, wanted, new TagWriteOptions(spec.Id3v2Version));
        }

        var (isInPlace, bytes) = files.Write(path, itemId, spec.CopyId, format, edit, held, spec.KeepsTime);
        return (
            isInPlace, bytes,
            [
                .. spec.Fields.Where(field => field.Values.Count > 0 && held[field.Name].Count == 0).Select(field => field.Name),
                .. held.Pictures.Count < wanted.Pictures.Count ? ["a picture"] : Array.Empty<string>()
            ]);
    }

    /// <summary>
    /// A file that has replaced the reviewed one is not touched; one that an earlier run of ours has written is not a replacement.
    /// </summary>
    private void RefuseExchanged(string path, long itemId, TagWriteSpec spec)
    {
        // A write that a crash interrupted was checked when it began.
        if (spec.Reviewed is not { } reviewed || undo.Find(itemId) is not null
            || FileStamp.Of(path).Fits(new FileStamp(reviewed.Bytes, reviewed.ModifiedAt, reviewed.Number)))
            return;
        if (undo.LatestOf(spec.CopyId) is { } write)
        {
            using var stream = TagFile.OpenRead(path);
            if (TagUndo.IsAsWritten(stream, write, undo.InverseOf(write.ItemId)))
                return;
        }

        throw new IOException(
            "This file has changed since its tags were reviewed, or was replaced by another. Nothing was written. Rescan its folder and "
                + "review it again.");
    }

    /// <summary>A file that is only renamed has an undo, too.</summary>
    private void KeepNothing(string path, long itemId, long copyId)
    {
        using var stream = TagFile.OpenRead(path);
        var edit = new TagEdit();
        edit.Keep(0, stream.Length);
        undo.Keep(itemId, copyId, edit, edit.Inverse(stream), stream.Length);
    }

    internal static TagSet Changed(TagSet tags, TagWriteSpec spec, List<Picture>? pictures)
    {
        foreach (var field in spec.Fields)
        {
            if (tags[field.Name].Any(whole => field.Values.Any(listed => ListedTags.IsCutFrom(whole, listed))))
                throw new IOException(
                    $"The field {field.Name} of this file is too long to edit in part. Nothing was written. Enter a new value, or remove "
                        + "the field.");
            tags.Set(field.Name, field.Values);
        }

        if (pictures is not null)
        {
            tags.Pictures.Clear();
            foreach (var picture in pictures)
                tags.Pictures.Add(picture);
        }

        return tags;
    }

    private List<Picture> Load(IReadOnlyList<PictureChoice> choices)
    {
        using var connection = database.Open();
        return [
            .. choices.Select(
                choice =>
                    connection.QueryFirstOrDefault<ArtworkRow>(
                        "SELECT mime_type, data FROM artwork WHERE hash = @Hash", new { choice.Hash }) is { } stored
            ? new Picture(choice.Kind, stored.MimeType, choice.Description, stored.Data)
            : throw new IOException("A chosen picture is no longer stored. Choose it again."))];
    }

    private static string Words(TagWriteSpec spec)
    {
        var parts = spec.Fields.Select(field => field.Name).ToList();
        if (spec.Pictures is not null)
            parts.Add("pictures");
        if (spec.NewPath is not null)
            parts.Add("name");
        return string.Join(", ", parts);
    }
}
