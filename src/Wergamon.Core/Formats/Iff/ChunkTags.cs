using System.Buffers.Binary;
using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Id3v2;

namespace Wergamon.Core.Formats.Iff;

/// <summary>An ID3v2 tag in a chunk, as in WAV and AIFF files (common practice, no source), beside the older text chunks of each.</summary>
internal static class ChunkTags
{
    private const int FileHeaderLength = 12;

    /// <summary>Filler that readers pass over (Multimedia Programming Interface and Data Specifications 1.0, RIFF).</summary>
    private const string Filler = "JUNK";

    /// <summary>The tag as a chunk after the audio; none without tags.</summary>
    public static List<TailChunk> TailFor(string id, TagSet tags, TagWriteOptions? options) =>
        tags.IsEmpty ? [] : [new TailChunk(id, Id3v2Writer.Write(tags, Id3v2WriteOptions.For(options)))];

    /// <summary>Bytes that <see cref="TailFor"/> takes in a file.</summary>
    public static long LengthOf(TagContents tags)
    {
        if (Id3v2Dialect.Instance.CountHeld(tags) == 0)
            return 0;
        long length = Id3v2Dialect.Instance.LengthOf(tags);
        return Chunks.HeaderLength + length + (length & 1);
    }

    /// <summary>
    /// A file with another tag. What follows the sound is rewritten there; a tag before the sound is replaced in place if the
    /// new one fits, and otherwise goes behind the sound.
    /// </summary>
    /// <param name="id">The chunk of the tag.</param>
    /// <param name="texts">How the format's own text chunks are written.</param>
    /// <exception cref="UnreadableAudioException">The chunks do not fill the file as they should.</exception>
    public static TagEdit Edit(Stream source, ByteOrder order, string id, TextChunks texts, TagSet tags, TagWriteOptions options)
    {
        var chunks = Chunks.Walk(source, order);
        if (chunks.Count == 0 || chunks.Exists(chunk => chunk.IsCutShort || chunk.Id.Any(c => c is < ' ' or > '~'))
            || chunks[^1].End + (chunks[^1].Length & 1) < source.Length)
            throw new UnreadableAudioException(
                "The tags of this file cannot be changed: its chunks are damaged, or it was never finished. A copy of it can hold tags.");
        var tail = texts.Write([.. chunks.FindAll(texts.IsText).Select(chunk => chunk.Id)], tags).ToList();
        int lastOther = chunks.FindLastIndex(chunk => !IsTag(chunk) && !texts.IsText(chunk));
        int old = chunks.FindIndex(IsTag);
        int version = old < 0
            ? options.Id3v2Version ?? 3
            : TagsAroundSound.VersionFor(source, chunks[old].Offset, chunks[old].Length, options);
        var tag = Id3v2Writer.WriteInto(tags, version, old < 0 ? 0 : chunks[old].Length);
        bool isPlaced = tags.IsEmpty, hasRoom = old >= 0 && tag.Length == chunks[old].Length;
        var edit = new TagEdit();
        var head = new byte[FileHeaderLength];
        source.Position = 0;
        source.ReadExactly(head);
        edit.Add(head);
        for (int i = 0; i < chunks.Count; i++)
        {
            var chunk = chunks[i];
            if (!IsTag(chunk) && !texts.IsText(chunk))
                KeepWhole(edit, chunk, source.Length);
            else if (i == old && i < lastOther && hasRoom && !isPlaced)
                isPlaced = AddChunk(edit, new TailChunk(chunk.Id, tag), order);
            else if (i < lastOther && order == ByteOrder.LittleEndian)
                AddChunk(edit, new TailChunk(Filler, new byte[chunk.Length]), order);
        }

        foreach (var chunk in tail)
            AddChunk(edit, chunk, order);
        if (!isPlaced)
            AddChunk(edit, new TailChunk(id, tag), order);
        if (edit.Length - Chunks.HeaderLength > uint.MaxValue)
            throw new UnreadableAudioException("With these tags the file would be longer than its format can be (4 GB).");
        if (order == ByteOrder.LittleEndian)
            BinaryPrimitives.WriteUInt32LittleEndian(head.AsSpan(4), (uint)(edit.Length - Chunks.HeaderLength));
        else
            BinaryPrimitives.WriteUInt32BigEndian(head.AsSpan(4), (uint)(edit.Length - Chunks.HeaderLength));
        return edit;
    }

    /// <summary>A hash over the content of all chunks but tags, texts and fillers.</summary>
    public static string HashRest(Stream stream, ByteOrder order, TextChunks texts)
    {
        var hash = new RangeHash();
        foreach (var chunk in Chunks.Walk(stream, order).Where(chunk => !IsTag(chunk) && !texts.IsText(chunk) && chunk.Id != Filler))
            hash.Add(stream, chunk.Offset, chunk.Length);
        return hash.ToString();
    }

    private static bool IsTag(ChunkPosition chunk) => chunk.Id is "id3 " or "ID3 ";

    private static void KeepWhole(TagEdit edit, ChunkPosition chunk, long fileLength)
    {
        long end = chunk.End + (chunk.Length & 1);
        edit.Keep(chunk.Offset - Chunks.HeaderLength, Math.Min(end, fileLength) - chunk.Offset + Chunks.HeaderLength);
        if (end > fileLength)
            edit.Add(new byte[1]);
    }

    private static bool AddChunk(TagEdit edit, TailChunk chunk, ByteOrder order)
    {
        var bytes = new MemoryStream();
        Chunks.Write(bytes, chunk, order);
        edit.Add(bytes.ToArray());
        return true;
    }
}

/// <summary>The text chunks of a format beside its ID3v2 tag.</summary>
/// <param name="IsText">Recognises them.</param>
/// <param name="Write">The new ones, given the identifiers of those that the file has.</param>
internal sealed record TextChunks(Predicate<ChunkPosition> IsText, Func<IReadOnlyList<string>, TagSet, IEnumerable<TailChunk>> Write);
