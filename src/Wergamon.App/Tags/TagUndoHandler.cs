using Wergamon.App.Runs;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Registry;

namespace Wergamon.App.Tags;

/// <summary>Undoes a write of tags: the file gets exactly its old bytes and name.</summary>
public sealed class TagUndoHandler(TagFile files, TagRecord record, TagUndo undo) : ItemHandler<TagUndoSpec>(ItemKind)
{
    public static readonly ItemKind<TagUndoSpec, TagWriteResult> ItemKind = new(
        "undo-tags", () => TagsJson.Default.TagUndoSpec, () => TagsJson.Default.TagWriteResult);

    protected override async Task<ItemOutcome> ExecuteAsync(
        RunItemRow item, TagUndoSpec spec, ItemContext context, CancellationToken cancellation)
    {
        if (record.Find(spec.CopyId, item.Id) is not { } file || undo.Find(spec.ItemId) is not { IsDone: true } write)
            return ItemOutcome.Skipped("This file is missing or in the trash; nothing was changed.");
        if (write.UndoneBy == item.Id)
            return ItemKind.Done(new TagWriteResult(file.Path, true, 0, []));
        if (write.UndoneBy is not null)
            return ItemOutcome.Skipped("This has already been undone.");
        if (undo.LaterThan(write) is not null)
            return ItemOutcome.Failed("The file was written again later. Undo that first.");
        var (isInPlace, bytes) = await Task.Run(() => Write(file.Path, item.Id, spec, write), cancellation).ConfigureAwait(false);
        file = record.Rename(item.Id, file, write.OldPath);
        await record.SaveAsync(spec.CopyId, item.Id, file, "undone", undoes: spec.ItemId).ConfigureAwait(false);
        return ItemKind.Done(new TagWriteResult(file.Path, isInPlace, bytes, []));
    }

    /// <summary>An interrupted write is undone and starts over.</summary>
    protected override Task<ItemOutcome?> RecoverAsync(RunItemRow item, TagUndoSpec spec, CancellationToken cancellation)
    {
        if (record.Find(spec.CopyId, item.Id) is { } file)
            files.Restore(file.Path, item.Id);
        return Task.FromResult<ItemOutcome?>(null);
    }

    protected override ItemDescription Describe(RunItemRow item, TagUndoSpec spec) => new("Undoing", "Undone")
    {
        Path = ItemKind.ResultOf(item)?.Path,
        CopyId = spec.CopyId,
        OnFailure = "The file is unchanged.",
    };

    private (bool IsInPlace, long Bytes) Write(string path, long itemId, TagUndoSpec spec, TagUndoRow write)
    {
        if (files.IsWritten(path, itemId))
            return (IsInPlace: true, 0);
        var inverse = undo.InverseOf(spec.ItemId);
        TaggedFormat? format;
        using (var stream = TagFile.OpenRead(path))
        {
            if (!TagUndo.IsAsWritten(stream, write, inverse))
                throw new IOException("The file was changed by another program since; its contents were not overwritten.");
            format = FileFormats.Of(stream) as TaggedFormat;
        }

        // A rename alone has kept the whole file.
        if (inverse.Pieces.All(piece => piece.IsKept) && inverse.IsInPlace && inverse.Length == write.NewLength)
            return (true, 0);
        return files.Write(
            path, itemId, spec.CopyId,
            format ?? throw new UnreadableAudioException("The file is no longer of the format that was written."), inverse, expected: null,
            spec.KeepsTime);
    }
}
