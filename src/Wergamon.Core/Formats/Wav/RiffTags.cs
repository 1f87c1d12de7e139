using System.Text;
using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Formats.Iff;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Id3v2;

namespace Wergamon.Core.Formats.Wav;

/// <summary>
/// Tags of WAV files: an ID3v2 tag in an "id3 " chunk (common practice, no source), and the older INFO list
/// (Multimedia Programming Interface and Data Specifications 1.0), which is only read, where the first is missing. A key without a field of its own keeps its name.
/// </summary>
public static class RiffTags
{
    public const string Id3ChunkId = "id3 ";

    private static readonly Dictionary<string, string> InfoNames = new()
    {
        ["INAM"] = FieldNames.Title,
        ["IART"] = FieldNames.Artist,
        ["IPRD"] = FieldNames.Album,
        ["ICRD"] = FieldNames.Year,
        ["IGNR"] = FieldNames.Genre,
        ["ICMT"] = FieldNames.Comment,
        ["ITRK"] = FieldNames.Track,
        ["IPRT"] = FieldNames.Track,
        ["ICOP"] = FieldNames.Copyright,
        ["IMUS"] = FieldNames.Composer,
    };

    public static TagReading Read(Stream stream)
    {
        var chunks = Chunks.Walk(stream, ByteOrder.LittleEndian);
        if ((chunks.Find(Id3ChunkId) ?? chunks.Find("ID3 ")) is { } id3)
            return Id3v2Reader.ReadAt(stream, id3.Offset, id3.Length);

        var tags = new TagSet();
        foreach (var list in chunks.Where(chunk => chunk.Id == "LIST"))
        {
            stream.Position = list.Offset;
            if (stream.TryReadBlock(list.Length) is { } block && block.AsSpan().StartsWith("INFO"u8))
                ReadInfo(block, tags);
        }

        return new TagReading(tags, []);
    }

    private static void ReadInfo(byte[] list, TagSet tags)
    {
        // The list is a sequence of chunks after a four-letter type, as a file is after its twelve-byte header.
        using var stream = new MemoryStream([.. new byte[8], .. list]);
        foreach (var chunk in Chunks.Walk(stream, ByteOrder.LittleEndian))
        {
            stream.Position = chunk.Offset;
            if (stream.TryReadBlock(chunk.Length) is { } text)
                tags.AddNumbered(InfoNames.GetValueOrDefault(chunk.Id, chunk.Id.TrimEnd()), LooseText.Read(text));
        }
    }
}
