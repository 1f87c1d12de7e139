using System.Text;
using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Formats.Iff;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Id3v2;
using Wergamon.Core.Tags.Mapping;

namespace Wergamon.Core.Formats.Wav;

/// <summary>
/// Tags of WAV files: an ID3v2 tag in an "id3 " chunk (common practice, no source), and the older INFO list
/// (Multimedia Programming Interface and Data Specifications 1.0), of which a file gets both. Of a field that both have, that of the
/// tag counts. A key without a field of its own keeps its name.
/// </summary>
public static class RiffTags
{
    public const string Id3ChunkId = "id3 ";

    private static readonly KeyMap InfoKeys = new(row => row.Info, StringComparer.OrdinalIgnoreCase, FieldMap.InfoAliases);

    /// <summary>The INFO list, which is always written.</summary>
    internal static TextChunks Texts { get; } = new(chunk => chunk is { Id: "LIST", IsInfo: true }, (_, tags) => WriteInfo(tags));

    public static TagReading Read(Stream stream)
    {
        var chunks = Chunks.Walk(stream, ByteOrder.LittleEndian);
        var tag = (chunks.Find(Id3ChunkId) ?? chunks.Find("ID3 ")) is { } id3 ? Id3v2Reader.ReadAt(stream, id3.Offset, id3.Length) : null;
        var tags = new TagSet();
        foreach (var list in chunks.Where(chunk => chunk.IsInfo))
        {
            stream.Position = list.Offset;
            if (stream.TryReadBlock(list.Length) is { } block)
                ReadInfo(block, tags);
        }

        tags.Set(FieldNames.Chapters, CuePoints.OfWav(stream, chunks));
        var info = new TagReading(tags, []);
        return tag is null ? info : TagsAroundSound.Join(tag, info);
    }

    /// <summary>Bytes that the INFO list of a new file takes.</summary>
    internal static long InfoLengthOf(TagContents contents)
    {
        var tags = new TagSet();
        foreach (var field in contents.Fields)
            tags.Set(field.Name, field.Values);
        return WriteInfo(tags).Sum(chunk => chunk.LengthInFile);
    }

    private static IEnumerable<TailChunk> WriteInfo(TagSet tags)
    {
        var list = new MemoryStream();
        list.Write("INFO"u8);
        foreach (var field in tags.Fields)
        {
            if (InfoKeyOf(field.Name) is not { } key)
                continue;
            var text = field.Name == FieldNames.Track && tags.First(FieldNames.TrackTotal) is { } total
                ? $"{field.Values[0]}/{total}"
                : string.Join("; ", field.Values);
            Chunks.Write(list, new TailChunk(key, (byte[])[.. Encoding.UTF8.GetBytes(text), 0]), ByteOrder.LittleEndian);
        }

        return list.Length > 4 ? [new TailChunk("LIST", list.ToArray())] : [];
    }

    private static string? InfoKeyOf(string field) => InfoKeys.KeyOf(field) ?? (IsOtherKey(field) ? field : null);

    private static bool IsOtherKey(string field) =>
        field.Length == 4 && field[0] == 'I' && field.All(c => char.IsAsciiLetterUpper(c) || char.IsAsciiDigit(c));

    private static void ReadInfo(byte[] list, TagSet tags)
    {
        foreach (var (id, text) in Chunks.ReadList(list))
            tags.AddNumbered(InfoKeys.FieldOf(id) ?? id.TrimEnd(), LenientText.Read(text));
    }
}
