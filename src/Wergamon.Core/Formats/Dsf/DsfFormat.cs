using System.Buffers.Binary;
using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Id3v2;

namespace Wergamon.Core.Formats.Dsf;

/// <summary>
/// One-bit sound in DSF files (DSF File Format Specification 1.01, from memory; held against libavformat). Read, and their tags written.
/// </summary>
public sealed class DsfFormat : TaggedFormat
{
    private const int HeadLength = 28;
    private const int FormatLength = 52;
    private const int LengthOffset = 12;
    private const int PointerOffset = 20;

    public static DsfFormat Instance { get; } = new();

    private DsfFormat() : base("dsf", "DSF") { }

    public override TagDialect Dialect => Id3v2Dialect.Instance;

    public override TagEdit EditTags(Stream source, TagSet tags, TagWriteOptions options)
    {
        source.Position = 0;
        var head = source.TryReadBlock(HeadLength) ?? throw new UnreadableAudioException("The DSF file ends within its header.");
        long end = PlaceOfTag(head, source.Length) ?? source.Length;
        byte[] tag = tags.IsEmpty
            ? []
            : Id3v2Writer.WriteInto(tags, TagsAroundSound.VersionFor(source, end, source.Length - end, options), source.Length - end);
        BinaryPrimitives.WriteInt64LittleEndian(head.AsSpan(LengthOffset), end + tag.Length);
        BinaryPrimitives.WriteInt64LittleEndian(head.AsSpan(PointerOffset), tag.Length == 0 ? 0 : end);
        var edit = new TagEdit();
        edit.Add(head);
        edit.Keep(HeadLength, end - HeadLength);
        edit.Add(tag);
        return edit;
    }

    public override string HashSound(Stream stream)
    {
        stream.Position = 0;
        return RangeHash.Of(stream, HeadLength, PlaceOfTag(stream.TryReadBlock(HeadLength) ?? [], stream.Length) ?? stream.Length);
    }

    internal override OpenedFile? Open(Stream stream, ReadOnlySpan<byte> start)
    {
        if (!start.StartsWith("DSD "u8))
            return null;
        stream.Position = 0;
        var head = stream.TryReadBlock(Math.Min(stream.Length, HeadLength + FormatLength)) ?? [];
        return new OpenedFile(this, () => ReadFacts(head, stream.Length), () => ReadTags(head, stream));
    }

    private AudioFacts ReadFacts(byte[] head, long fileLength)
    {
        var cursor = new ByteCursor(head);
        cursor.Skip(HeadLength + 4 + 8 + 4 + 4 + 4);
        int channels = (int)Math.Min(int.MaxValue, cursor.UInt32LittleEndian());
        uint rate = cursor.UInt32LittleEndian();
        cursor.Skip(4);
        ulong samples = cursor.UInt64LittleEndian();
        if (cursor.IsPastEnd || !head.AsSpan(HeadLength).StartsWith("fmt "u8) || OneBitSound.FormatOf(channels, rate) is not { } format)
            throw new UnreadableAudioException("The DSF file does not say what audio it holds.");
        return OneBitSound.Facts(this, format, (long)(samples / OneBitSound.SamplesPerByte), rate, fileLength);
    }

    private static TagReading ReadTags(byte[] head, Stream stream) =>
        PlaceOfTag(head, stream.Length) is { } at ? Id3v2Reader.ReadAt(stream, at, stream.Length - at) : new TagReading(new TagSet(), []);

    /// <summary>The tag is where the header points to; null where it points nowhere.</summary>
    private static long? PlaceOfTag(ReadOnlySpan<byte> head, long fileLength) =>
        head.Length >= HeadLength && BinaryPrimitives.ReadInt64LittleEndian(head[PointerOffset..]) is >= HeadLength and var at
                && at < fileLength
            ? at
            : null;
}
