using System.Text;
using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Formats.Iff;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Id3v2;
using Wergamon.Core.Tags.Mapping;

namespace Wergamon.Core.Formats.Aiff;

/// <summary>
/// Tags of AIFF files: an ID3v2 tag in an "ID3 " chunk (common practice, no source), and the text chunks of
/// Audio Interchange File Format 1.3, which are kept in agreement where a file has them. Of a field that both have, that of the tag counts.
/// </summary>
public static class AiffTags
{
    public const string Id3ChunkId = "ID3 ";

    private static readonly KeyMap TextKeys = new(row => row.Aiff, StringComparer.Ordinal);

    /// <summary>Those that the file has are rewritten with what the tags say.</summary>
    internal static TextChunks Texts { get; } = new(
        chunk => TextKeys.FieldOf(chunk.Id) is not null,
        (present, tags) =>
            present.Distinct()
                .SelectMany(id => tags[TextKeys.FieldOf(id)!], (id, text) => new TailChunk(id, Encoding.UTF8.GetBytes(text))));

    public static TagReading Read(Stream stream)
    {
        var chunks = Chunks.Walk(stream, ByteOrder.BigEndian);
        var tag = (chunks.Find(Id3ChunkId) ?? chunks.Find("id3 ")) is { } id3 ? Id3v2Reader.ReadAt(stream, id3.Offset, id3.Length) : null;
        var tags = new TagSet();
        foreach (var chunk in chunks)
        {
            if (TextKeys.FieldOf(chunk.Id) is not { } name)
                continue;
            stream.Position = chunk.Offset;
            if (stream.TryReadBlock(chunk.Length) is { } text)
                tags.Add(name, LenientText.Read(text));
        }

        tags.Set(FieldNames.Chapters, CuePoints.OfAiff(stream, chunks));
        var texts = new TagReading(tags, []);
        return tag is null ? texts : TagsAroundSound.Join(tag, texts);
    }
}
