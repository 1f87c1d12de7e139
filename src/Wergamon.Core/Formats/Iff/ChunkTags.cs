using System.Buffers.Binary;
using System.Security.Cryptography;
using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Id3v2;

namespace Wergamon.Core.Formats.Iff;

/// <summary>An ID3v2 tag in a chunk after the audio, as in WAV and AIFF files (common practice, no source).</summary>
internal static class ChunkTags
{
    private const int FileHeaderLength = 12;

    /// <summary>The chunks after the audio; none without tags.</summary>
    public static List<TailChunk> TailFor(string id, TagSet tags) => tags.IsEmpty ? [] : [new TailChunk(id, Id3v2Writer.Write(tags))];

    /// <summary>Bytes that <see cref="TailFor"/> takes in a file.</summary>
    public static long LengthOf(TagContents tags)
    {
        if (Id3v2Dialect.Instance.CountHeld(tags) == 0)
            return 0;
        long length = Id3v2Dialect.Instance.LengthOf(tags);
        return Chunks.HeaderLength + length + (length & 1);
    }

    /// <summary>Copies all chunks but the tag and puts the new one last.</summary>
    public static void Rewrite(Stream source, Stream target, ByteOrder order, string id, TagSet tags)
    {
        Span<byte> start = stackalloc byte[FileHeaderLength];
        source.Position = 0;
        source.ReadExactly(start);
        target.Write(start);
        foreach (var chunk in Chunks.Walk(source, order).Where(chunk => !IsTag(chunk)))
        {
            Chunks.WriteHeader(target, chunk.Id, (uint)chunk.Length, order);
            CopySome(source, chunk, piece => target.Write(piece));
            if ((chunk.Length & 1) == 1)
                target.WriteByte(0);
        }

        foreach (var chunk in TailFor(id, tags))
            Chunks.Write(target, chunk, order);
        Span<byte> length = stackalloc byte[4];
        uint whole = checked((uint)(target.Length - Chunks.HeaderLength));
        if (order == ByteOrder.LittleEndian)
            BinaryPrimitives.WriteUInt32LittleEndian(length, whole);
        else
            BinaryPrimitives.WriteUInt32BigEndian(length, whole);
        target.Position = 4;
        target.Write(length);
        target.Position = target.Length;
    }

    /// <summary>SHA-256 over the content of all chunks but the tag.</summary>
    public static string HashRest(Stream stream, ByteOrder order)
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        foreach (var chunk in Chunks.Walk(stream, order).Where(chunk => !IsTag(chunk)))
            CopySome(stream, chunk, piece => hash.AppendData(piece));
        return Convert.ToHexStringLower(hash.GetHashAndReset());
    }

    private static bool IsTag(ChunkPlace chunk) => chunk.Id is "id3 " or "ID3 ";

    private static void CopySome(Stream source, ChunkPlace chunk, Action<ReadOnlySpan<byte>> take)
    {
        source.Position = chunk.Offset;
        long left = chunk.Length;
        var buffer = new byte[1 << 16];
        while (left > 0 && source.ReadUpTo(buffer.AsSpan(0, (int)Math.Min(left, buffer.Length))) is > 0 and var got)
        {
            take(buffer.AsSpan(0, got));
            left -= got;
        }
    }
}
