using System.Buffers.Binary;
using System.Security.Cryptography;
using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Formats.Aiff;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Formats.Iff;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Id3v2;

namespace Wergamon.Core.Formats;

/// <summary>Writes a file anew with other tags. The sound is copied byte for byte.</summary>
public static class TagRewriter
{
    private const int FileHeaderLength = 12;

    /// <param name="source">A whole FLAC, MP3, AIFF or WAV file; seekable.</param>
    /// <param name="target">Empty, seekable.</param>
    /// <exception cref="UnreadableAudioException">The file is of a kind whose tags cannot be written anew.</exception>
    public static void Rewrite(Stream source, Stream target, TagSet tags)
    {
        Span<byte> start = stackalloc byte[FileHeaderLength];
        source.Position = 0;
        start = start[..source.ReadUpTo(start)];
        if (WavReader.Recognises(start))
        {
            if (!start.StartsWith("RIFF"u8))
                throw new UnreadableAudioException("Tags of WAV files above 4 GB cannot be changed in place.");
            RewriteChunks(source, target, start, ByteOrder.LittleEndian, RiffTags.Id3ChunkId, tags);
        }
        else if (AiffReader.Recognises(start))
        {
            RewriteChunks(source, target, start, ByteOrder.BigEndian, AiffTags.Id3ChunkId, tags);
        }
        else if (FlacTags.FindStart(source) is { } flacStart)
        {
            var streamInfo = new byte[FlacStreamInfo.Length];
            source.Position = flacStart + 8;
            source.ReadExactly(streamInfo);
            FlacTags.Write(target, streamInfo, tags);
            source.Position = FlacTags.Read(source, flacStart).AudioOffset;
            source.CopyTo(target);
        }
        else
        {
            target.Write(Id3v2Writer.Write(tags));
            source.Position = Id3v2Reader.LengthAtStart(source);
            source.CopyTo(target);
        }
    }

    /// <summary>A sum over the sound alone, to prove that writing tags has not touched it.</summary>
    public static string SumOfSound(Stream stream)
    {
        Span<byte> start = stackalloc byte[FileHeaderLength];
        stream.Position = 0;
        start = start[..stream.ReadUpTo(start)];
        bool isWav = WavReader.Recognises(start);
        if (isWav || AiffReader.Recognises(start))
        {
            using var sum = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
            foreach (var chunk in Chunks.Walk(stream, isWav ? ByteOrder.LittleEndian : ByteOrder.BigEndian).Where(chunk => !IsTag(chunk)))
            {
                stream.Position = chunk.Offset;
                CopySome(stream, Stream.Null, chunk.Length, sum);
            }

            return Convert.ToHexStringLower(sum.GetHashAndReset());
        }

        stream.Position = FlacTags.FindStart(stream) is { } flacStart ? FlacTags.Read(stream, flacStart).AudioOffset : Id3v2Reader.LengthAtStart(stream);
        return Convert.ToHexStringLower(SHA256.HashData(stream));
    }

    private static bool IsTag(ChunkPlace chunk) => chunk.Id is "id3 " or "ID3 ";

    private static void RewriteChunks(Stream source, Stream target, ReadOnlySpan<byte> start, ByteOrder order, string id, TagSet tags)
    {
        target.Write(start);
        foreach (var chunk in Chunks.Walk(source, order).Where(chunk => !IsTag(chunk)))
        {
            Chunks.WriteHeader(target, chunk.Id, (uint)chunk.Length, order);
            source.Position = chunk.Offset;
            CopySome(source, target, chunk.Length, null);
            if ((chunk.Length & 1) == 1)
                target.WriteByte(0);
        }

        if (!tags.IsEmpty)
            Chunks.Write(target, new TailChunk(id, Id3v2Writer.Write(tags)), order);
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

    private static void CopySome(Stream source, Stream target, long length, IncrementalHash? sum)
    {
        var buffer = new byte[1 << 16];
        while (length > 0 && source.ReadUpTo(buffer.AsSpan(0, (int)Math.Min(length, buffer.Length))) is > 0 and var got)
        {
            target.Write(buffer, 0, got);
            sum?.AppendData(buffer, 0, got);
            length -= got;
        }
    }
}
