using Wergamon.App.Files;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Tags;

namespace Wergamon.App.Tags;

/// <summary>
/// Writes other tags into a file and proves it: the coded sound hashes as before and the tags read back, or the file is as it was. The
/// bytes that are replaced are kept first.
/// </summary>
public sealed class TagFile(Placement placement, TagUndo undo)
{
    /// <summary>Applies an edit.</summary>
    /// <param name="expected">What has to read back; null for an edit whose result is proved by its bytes.</param>
    /// <exception cref="IOException">It did not read back and was undone, or the disk refused.</exception>
    internal (bool IsInPlace, long BytesWritten) Write(
        string path, long itemId, long copyId, TaggedFormat format, TagEdit edit, TagSet? expected, bool keepsTime)
    {
        var modified = PlainFile.ModifiedUtc(path);
        string sound;
        TagEdit inverse;
        IReadOnlyList<BytePatch> patches;
        long oldLength;
        using (var source = OpenRead(path))
        {
            sound = format.HashSound(source);
            oldLength = source.Length;
            patches = edit.IsInPlace ? edit.Patches(source) : [];
            inverse = edit.Inverse(source, patches);
            undo.Keep(itemId, copyId, edit, inverse, oldLength);
        }

        if (edit.IsInPlace)
            WriteInPlace(path, itemId, edit, patches, inverse, oldLength, modified, stream => Prove(stream, format, sound, expected));
        else
            WriteAnew(path, itemId, edit, stream => Prove(stream, format, sound, expected));
        if (keepsTime)
            PlainFile.SetModified(path, modified);
        return (edit.IsInPlace, edit.IsInPlace ? patches.Sum(patch => (long)patch.Bytes.Length) : edit.Length);
    }

    /// <summary>
    /// After a crash in the middle of a write in place: restores the old bytes, however many were replaced.
    /// </summary>
    internal void Restore(string path, long itemId)
    {
        if (undo.Find(itemId) is not { IsDone: false, IsInPlace: true } write || !PlainFile.Exists(path))
            return;
        // A file of another length is not the one that the write left unfinished.
        long length = PlainFile.Length(path);
        if (length >= Math.Min(write.OldLength, write.NewLength) && length <= Math.Max(write.OldLength, write.NewLength))
            PutBack(path, undo.InverseOf(itemId), write.OldLength);
    }

    /// <summary>True when an earlier attempt has written the file completely and only the record is missing.</summary>
    internal bool IsWritten(string path, long itemId)
    {
        if (undo.Find(itemId) is not { IsDone: false } write)
            return false;
        using var stream = OpenRead(path);
        return TagUndo.IsAsWritten(stream, write, undo.InverseOf(itemId));
    }

    private void WriteAnew(string path, long itemId, TagEdit edit, Action<Stream> prove)
    {
        var file = placement.Begin(path, itemId);
        try
        {
            using (var source = OpenRead(path))
            using (var target = PlainFile.Open(file.TemporaryPath, FileMode.CreateNew, FileAccess.ReadWrite, 1 << 16))
            {
                edit.WriteTo(source, target);
                target.Flush(flushToDisk: true);
                prove(target);
            }

            PlainFile.CopyMode(path, file.TemporaryPath);
            placement.Replace(file, path);
            placement.Settle(file);
        }
        catch
        {
            placement.Discard(file);
            throw;
        }
    }

    private void WriteInPlace(
        string path, long itemId, TagEdit edit, IReadOnlyList<BytePatch> patches, TagEdit inverse, long oldLength, DateTime modified,
        Action<Stream> prove)
    {
        try
        {
            using (var target = PlainFile.Open(path, FileMode.Open, FileAccess.ReadWrite, bufferSize: 0))
                Placement.Patch(target, patches, edit.Length);
            using var written = OpenRead(path);
            prove(written);
        }
        catch
        {
            PutBack(path, inverse, oldLength);
            PlainFile.SetModified(path, modified);
            // The file is unchanged: these bytes must not be restored over what the next attempt may write.
            undo.Drop(itemId);
            throw;
        }
    }

    private static void PutBack(string path, TagEdit inverse, long oldLength)
    {
        using var target = PlainFile.Open(path, FileMode.Open, FileAccess.ReadWrite, bufferSize: 0);
        var old = new List<BytePatch>();
        long at = 0;
        foreach (var piece in inverse.Pieces)
        {
            if (!piece.IsKept)
                old.Add(new BytePatch(at, piece.Bytes));
            at += piece.Length;
        }

        Placement.Patch(target, old, oldLength);
    }

    private static void Prove(Stream stream, TaggedFormat format, string sound, TagSet? expected)
    {
        if (format.Verify(stream, sound, expected) is { } fault)
            throw new IOException(fault);
    }

    internal static FileStream OpenRead(string path) => PlainFile.Open(path, FileMode.Open, FileAccess.Read, 1 << 14);
}
