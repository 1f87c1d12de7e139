using System.Buffers.Binary;
using System.Text;
using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;

namespace Wergamon.Core.Formats.Iff;

/// <summary>One chunk of a RIFF or IFF file.</summary>
/// <param name="Id">Four characters, trailing blanks kept.</param>
/// <param name="Offset">Where its data start, in bytes from the start of the file.</param>
/// <param name="Length">Bytes of data that are really there.</param>
/// <param name="DeclaredLength">Bytes of data that its header claims.</param>
public readonly record struct ChunkPosition(string Id, long Offset, long Length, long DeclaredLength)
{
    public bool IsCutShort => Length < DeclaredLength;

    /// <summary>True for a list of texts about the whole file.</summary>
    public bool IsInfo { get; init; }

    /// <summary>Where its data end, without a padding byte.</summary>
    public long End => Offset + Length;
}

/// <summary>A chunk to be written after the sound, a tag for example.</summary>
/// <param name="Id">Four characters.</param>
public sealed record TailChunk(string Id, ReadOnlyMemory<byte> Data)
{
    /// <summary>Bytes it takes in the file, header and padding byte included.</summary>
    public long LengthInFile => Chunks.HeaderLength + Data.Length + (Data.Length & 1);
}

/// <summary>
/// The chunk structure that WAV (Multimedia Programming Interface and Data Specifications 1.0, RIFF), RF64 (EBU Tech 3306)
/// and AIFF (Audio Interchange File Format 1.3) share: identifier, length, data, padding to an even length.
/// </summary>
public static class Chunks
{
    public const int HeaderLength = 8;

    private const uint LengthStandsElsewhere = uint.MaxValue;

    /// <summary>Lists the chunks after the 12-byte file header without reading their data.</summary>
    /// <param name="stream">A seekable stream; its position is left undefined.</param>
    /// <param name="order">Little endian for RIFF, big endian for AIFF.</param>
    public static List<ChunkPosition> Walk(Stream stream, ByteOrder order)
    {
        var places = new List<ChunkPosition>();
        Span<byte> header = stackalloc byte[HeaderLength];
        long wideDataLength = -1;
        long at = 12;
        while (places.Count < Limits.MaxParts && at + HeaderLength <= stream.Length)
        {
            stream.Position = at;
            if (!stream.TryReadWhole(header))
                break;
            var id = Encoding.Latin1.GetString(header[..4]);
            uint length32 = order == ByteOrder.LittleEndian
                ? BinaryPrimitives.ReadUInt32LittleEndian(header[4..])
                : BinaryPrimitives.ReadUInt32BigEndian(header[4..]);
            long declared = length32 == LengthStandsElsewhere && id == "data" && wideDataLength >= 0 ? wideDataLength : length32;
            long start = at + HeaderLength;
            var place = new ChunkPosition(id, start, Math.Min(declared, stream.Length - start), declared);
            places.Add(id == "LIST" ? place with { IsInfo = StartsWithInfo(stream, place) } : place);
            if (id == "ds64" && ReadWideDataLength(stream, place) is { } wide)
                wideDataLength = wide;
            at = start + place.Length + (place.Length & 1);
        }

        return places;
    }

    /// <summary>
    /// The chunks inside a RIFF list: it is a sequence of them after a four-letter type, as a file is after its twelve-byte header.
    /// </summary>
    /// <param name="list">The content of the list, type included.</param>
    internal static IEnumerable<(string Id, byte[] Data)> ReadList(byte[] list)
    {
        using var stream = new MemoryStream([.. new byte[8], .. list]);
        foreach (var chunk in Walk(stream, ByteOrder.LittleEndian))
        {
            stream.Position = chunk.Offset;
            if (stream.TryReadBlock(chunk.Length) is { } data)
                yield return (chunk.Id, data);
        }
    }

    public static ChunkPosition? Find(this IEnumerable<ChunkPosition> places, string id)
    {
        foreach (var place in places)
        {
            if (place.Id == id)
                return place;
        }

        return null;
    }

    /// <summary>Writes one chunk at the stream's position.</summary>
    public static void Write(Stream stream, TailChunk chunk, ByteOrder order)
    {
        WriteHeader(stream, chunk.Id, (uint)chunk.Data.Length, order);
        stream.Write(chunk.Data.Span);
        if ((chunk.Data.Length & 1) == 1)
            stream.WriteByte(0);
    }

    public static void WriteHeader(Stream stream, string id, uint length, ByteOrder order)
    {
        Span<byte> header = stackalloc byte[HeaderLength];
        Encoding.Latin1.GetBytes(id, header);
        if (order == ByteOrder.LittleEndian)
            BinaryPrimitives.WriteUInt32LittleEndian(header[4..], length);
        else
            BinaryPrimitives.WriteUInt32BigEndian(header[4..], length);
        stream.Write(header);
    }

    private static bool StartsWithInfo(Stream stream, ChunkPosition list)
    {
        Span<byte> type = stackalloc byte[4];
        stream.Position = list.Offset;
        return list.Length >= type.Length && stream.TryReadWhole(type) && type.SequenceEqual("INFO"u8);
    }

    private static long? ReadWideDataLength(Stream stream, ChunkPosition ds64)
    {
        Span<byte> lengths = stackalloc byte[16];
        stream.Position = ds64.Offset;
        if (ds64.Length < lengths.Length || !stream.TryReadWhole(lengths))
            return null;
        long wide = BinaryPrimitives.ReadInt64LittleEndian(lengths[8..]);
        return wide >= 0 ? wide : null;
    }
}
