using System.Buffers;
using Wergamon.Core.Bytes;

namespace Wergamon.Core.Tags;

/// <summary>A range of the old file that stays, or new bytes.</summary>
/// <param name="Offset">Where the range starts in the old file; -1 for new bytes.</param>
/// <param name="Length">In bytes, of either.</param>
public readonly record struct EditPiece(long Offset, long Length, ReadOnlyMemory<byte> Bytes)
{
    public bool IsKept => Offset >= 0;
}

/// <summary>New bytes for a place in a file.</summary>
public readonly record struct BytePatch(long Offset, ReadOnlyMemory<byte> Bytes);

/// <summary>
/// A file with other tags: ranges of the old file and new bytes, in order. When every range that stays keeps its place, only what
/// differs has to be written; otherwise the file is rewritten.
/// </summary>
public sealed class TagEdit
{
    /// <summary>Longest padding that is left in a file; more is given back.</summary>
    public const int MaxPadding = 1 << 20;

    /// <summary>Equal bytes between two patches that are written rather than skipped.</summary>
    private const int MinGap = 512;

    /// <summary>Bytes that are compared at a time.</summary>
    private const int BlockLength = 64;

    private readonly List<EditPiece> _pieces = [];

    public IReadOnlyList<EditPiece> Pieces => _pieces;

    /// <summary>Length of the new file in bytes.</summary>
    public long Length { get; private set; }

    /// <summary>True when no range that stays has to move.</summary>
    public bool IsInPlace { get; private set; } = true;

    /// <summary>Appends a range of the old file; ranges come in the order of the file.</summary>
    public void Keep(long offset, long length)
    {
        if (length <= 0)
            return;
        IsInPlace &= offset == Length;
        if (_pieces is [.., { IsKept: true } last] && last.Offset + last.Length == offset)
            _pieces[^1] = last with { Length = last.Length + length };
        else
            _pieces.Add(new EditPiece(offset, length, default));
        Length += length;
    }

    /// <summary>Appends new bytes.</summary>
    public void Add(ReadOnlyMemory<byte> bytes)
    {
        if (bytes.IsEmpty)
            return;
        _pieces.Add(new EditPiece(-1, bytes.Length, bytes));
        Length += bytes.Length;
    }

    /// <summary>Writes the whole new file at the target's position.</summary>
    public void WriteTo(Stream source, Stream target)
    {
        foreach (var piece in _pieces)
        {
            if (!piece.IsKept)
            {
                target.Write(piece.Bytes.Span);
                continue;
            }

            using var part = new PartStream(source, piece.Offset, piece.Length);
            part.CopyTo(target, 1 << 18);
        }
    }

    /// <summary>What differs from the old file, for an edit in place; beyond the end of the old file everything does.</summary>
    public IReadOnlyList<BytePatch> Patches(Stream source)
    {
        if (!IsInPlace)
            throw new InvalidOperationException("Ranges of the file move.");
        var patches = new List<BytePatch>();
        long at = 0;
        foreach (var piece in _pieces)
        {
            if (!piece.IsKept)
                AddPatches(patches, at, piece.Bytes, source);
            at += piece.Length;
        }

        return patches;
    }

    /// <summary>The edit that makes the old file out of the new one.</summary>
    /// <param name="source">The old file.</param>
    public TagEdit Inverse(Stream source) => Inverse(source, IsInPlace ? Patches(source) : []);

    /// <summary>As <see cref="Inverse(Stream)"/>, where the patches of an edit in place are known already.</summary>
    public TagEdit Inverse(Stream source, IReadOnlyList<BytePatch> patches)
    {
        var inverse = new TagEdit();
        long old = 0, at = 0;
        if (IsInPlace)
        {
            foreach (var patch in patches)
            {
                inverse.Keep(at, patch.Offset - at);
                AddOld(inverse, source, patch.Offset, Math.Min(patch.Bytes.Length, source.Length - patch.Offset));
                at = patch.Offset + patch.Bytes.Length;
            }

            inverse.Keep(at, Math.Min(Length, source.Length) - at);
            AddOld(inverse, source, Math.Max(at, Length), source.Length - Math.Max(at, Length));
            return inverse;
        }

        foreach (var piece in _pieces)
        {
            if (piece.IsKept)
            {
                AddOld(inverse, source, old, piece.Offset - old);
                inverse.Keep(at, piece.Length);
                old = piece.Offset + piece.Length;
            }

            at += piece.Length;
        }

        AddOld(inverse, source, old, source.Length - old);
        return inverse;
    }

    private static void AddOld(TagEdit inverse, Stream source, long from, long length)
    {
        if (length > 0)
            inverse.Add(ReadOld(source, from, length));
    }

    private static byte[] ReadOld(Stream source, long from, long length)
    {
        var old = GC.AllocateUninitializedArray<byte>((int)Math.Clamp(source.Length - from, 0, length));
        source.Position = from;
        source.ReadExactly(old);
        return old;
    }

    private static void AddPatches(List<BytePatch> patches, long offset, ReadOnlyMemory<byte> bytes, Stream source)
    {
        int length = (int)Math.Clamp(source.Length - offset, 0, bytes.Length);
        var old = ArrayPool<byte>.Shared.Rent(length);
        source.Position = offset;
        source.ReadExactly(old, 0, length);
        AddPatches(patches, offset, bytes, old.AsSpan(0, length));
        ArrayPool<byte>.Shared.Return(old);
    }

    private static void AddPatches(List<BytePatch> patches, long offset, ReadOnlyMemory<byte> bytes, ReadOnlySpan<byte> old)
    {
        var fresh = bytes.Span;
        int shared = Math.Min(old.Length, bytes.Length);
        for (int at = 0; at < bytes.Length;)
        {
            int start = at + fresh[Math.Min(at, shared)..shared].CommonPrefixLength(old[Math.Min(at, shared)..shared]);
            if (start >= bytes.Length)
                return;
            int end = EndOfDifference(fresh, old, start, shared);
            patches.Add(new BytePatch(offset + start, bytes[start..end]));
            at = end;
        }
    }

    /// <summary>
    /// Where a difference ends: behind it are enough equal bytes to be worth a patch of its own, or nothing but equal bytes.
    /// </summary>
    private static int EndOfDifference(ReadOnlySpan<byte> fresh, ReadOnlySpan<byte> old, int start, int shared)
    {
        int end = start, at = start;
        for (; at < shared && at - end < MinGap; at += BlockLength)
        {
            int length = Math.Min(BlockLength, shared - at);
            if (!fresh.Slice(at, length).SequenceEqual(old.Slice(at, length)))
                end = at + length;
        }

        if (fresh.Length > shared && at >= shared && at - end < MinGap)
            return fresh.Length;
        while (end > start + 1 && fresh[end - 1] == old[end - 1])
            end--;
        return end;
    }
}
