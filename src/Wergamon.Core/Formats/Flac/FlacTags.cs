using System.Globalization;
using Wergamon.Core.Bytes;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Id3v2;
using Wergamon.Core.Tags.VorbisComment;

namespace Wergamon.Core.Formats.Flac;

/// <summary>Everything before the audio of a FLAC file.</summary>
/// <param name="StreamInfo">Null when the file is damaged there.</param>
/// <param name="AudioOffset">Where the first frame starts, in bytes from the start of the file.</param>
public sealed record FlacHead(FlacStreamInfo? StreamInfo, TagSet Tags, long AudioOffset, IReadOnlyList<string> Damage)
{
    /// <summary>The points of the seek table, which count from the first frame (RFC 9639, section 8.5); null without one.</summary>
    public byte[]? SeekTable { get; init; }

    public TagReading AsReading() => new(Tags, Damage);
}

/// <summary>The metadata blocks of a FLAC file (RFC 9639, section 8), read and written.</summary>
public static class FlacTags
{
    public const string Dialect = "FLAC";

    /// <summary>Offset of the content of STREAMINFO in a file that starts with the marker, in bytes.</summary>
    public const int StreamInfoOffset = 8;

    private const int BlockHeaderLength = 4;
    internal const int LongestBlock = 0xFF_FFFF;

    /// <summary>Padding after the tags, so that later edits need not move the audio.</summary>
    public const int Padding = 4096;

    private enum BlockType
    {
        StreamInfo = 0,
        Padding = 1,
        Application = 2,
        SeekTable = 3,
        VorbisComment = 4,
        CueSheet = 5,
        Picture = 6,
        Forbidden = 127,
    }

    /// <summary>Offset of "fLaC": the start, or after an ID3v2 tag that some programs put there. Null without it.</summary>
    public static long? FindStart(Stream stream)
    {
        Span<byte> marker = stackalloc byte[4];
        long at = Id3v2Reader.LengthAtStart(stream);
        stream.Position = at;
        return stream.TryReadWhole(marker) && marker.SequenceEqual("fLaC"u8) ? at : null;
    }

    /// <summary>Reads all blocks; damaged ones are skipped and named.</summary>
    public static FlacHead Read(Stream stream, long start)
    {
        var tags = new TagSet();
        var damage = new List<string>();
        FlacStreamInfo? streamInfo = null;
        byte[]? seekTable = null;
        stream.Position = start + 4;
        Span<byte> header = stackalloc byte[BlockHeaderLength];
        bool last = false;
        for (int i = 0; !last && i < Limits.MaxParts; i++)
        {
            if (!stream.TryReadWhole(header))
            {
                damage.Add("The file ends before its audio begins.");
                break;
            }

            last = (header[0] & 0x80) != 0;
            var type = (BlockType)(header[0] & 0x7F);
            int length = header[1] << 16 | header[2] << 8 | header[3];
            if (type == BlockType.Padding)
            {
                stream.Seek(length, SeekOrigin.Current);
                continue;
            }

            if (type == BlockType.Forbidden || stream.TryReadBlock(length) is not { } block)
            {
                damage.Add("A metadata block claims more than the file holds; the rest was skipped.");
                break;
            }

            switch (type)
            {
                case BlockType.StreamInfo:
                    streamInfo = FlacStreamInfo.Read(block);
                    break;
                case BlockType.SeekTable:
                    seekTable = block;
                    break;
                case BlockType.VorbisComment:
                    VorbisCommentBlock.Read(block, tags, damage);
                    break;
                case BlockType.Picture when FlacPictureBlock.Read(block) is { } picture:
                    tags.Pictures.Add(picture);
                    break;
                case BlockType.Picture:
                    damage.Add("A picture is damaged and was skipped.");
                    break;
                default:
                    tags.Opaque.Add(new OpaqueField(Dialect, ((int)type).ToString(CultureInfo.InvariantCulture), block));
                    break;
            }
        }

        return new FlacHead(streamInfo, tags, Math.Min(stream.Position, stream.Length), damage) { SeekTable = seekTable };
    }

    /// <summary>Writes the marker and all blocks at the stream's position; the audio follows.</summary>
    /// <param name="streamInfo">The 34 bytes of STREAMINFO.</param>
    public static void Write(Stream stream, ReadOnlySpan<byte> streamInfo, TagSet tags)
    {
        WriteBlocks(stream, streamInfo, null, tags, isLast: false);
        WriteBlock(stream, BlockType.Padding, new byte[Padding], last: true);
    }

    /// <summary>The marker and all blocks, as long as before where they fit, with the usual padding otherwise.</summary>
    /// <param name="room">Bytes before the first frame.</param>
    internal static ReadOnlyMemory<byte> WriteInto(long room, ReadOnlySpan<byte> streamInfo, byte[]? seekTable, TagSet tags)
    {
        var stream = new MemoryStream((int)Math.Min(room, Limits.MaxBlock));
        WriteBlocks(stream, streamInfo, seekTable, tags, isLast: false);
        long left = room - stream.Length;
        if (left == 0)
        {
            stream.SetLength(0);
            WriteBlocks(stream, streamInfo, seekTable, tags, isLast: true);
        }
        else
        {
            bool fits = left is >= BlockHeaderLength and <= TagEdit.MaxPadding;
            WriteBlock(stream, BlockType.Padding, new byte[fits ? left - BlockHeaderLength : Padding], last: true);
        }

        return stream.GetBuffer().AsMemory(0, (int)stream.Length);
    }

    /// <summary>The comments come last: a change of text then moves no picture.</summary>
    private static void WriteBlocks(Stream stream, ReadOnlySpan<byte> streamInfo, byte[]? seekTable, TagSet tags, bool isLast)
    {
        stream.Write("fLaC"u8);
        WriteBlock(stream, BlockType.StreamInfo, streamInfo, last: false);
        if (seekTable is not null)
            WriteBlock(stream, BlockType.SeekTable, seekTable, last: false);
        foreach (var field in tags.Opaque.Where(field => field.Dialect == Dialect))
            WriteBlock(stream, (BlockType)int.Parse(field.Id, CultureInfo.InvariantCulture), field.Data.Span, last: false);
        foreach (var picture in tags.Pictures.Where(picture => FlacDialect.Instance.CanHold(TagContents.EntryOf(picture))))
        {
            WriteHeader(stream, BlockType.Picture, FlacPictureBlock.LengthOf(picture), last: false);
            FlacPictureBlock.Write(stream, picture);
        }

        WriteBlock(stream, BlockType.VorbisComment, VorbisCommentBlock.Write(tags), isLast);
    }

    private static void WriteBlock(Stream stream, BlockType type, ReadOnlySpan<byte> data, bool last)
    {
        WriteHeader(stream, type, data.Length, last);
        stream.Write(data);
    }

    private static void WriteHeader(Stream stream, BlockType type, int length, bool last)
    {
        if (length > LongestBlock)
            throw new IOException("The tags are longer than a FLAC file can hold (16 MB a block).");
        stream.WriteUInt32BigEndian((uint)type << 24 | (last ? 0x8000_0000 : 0) | (uint)length);
    }
}
