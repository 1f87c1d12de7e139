using System.Buffers.Binary;
using System.Globalization;
using System.IO.Compression;
using System.Text;
using Wergamon.Core.Bytes;

namespace Wergamon.Core.Tags.Id3v2;

/// <summary>
/// Reads ID3v2.2, 2.3 and 2.4 tags, at the start of a file or in a chunk. Lengths are checked against the bytes that remain;
/// a bad length ends the reading and keeps what came before.
/// </summary>
public static class Id3v2Reader
{
    public const int HeaderLength = 10;

    /// <summary>Maximum size of a decompressed frame; larger ones are skipped.</summary>
    private const int LongestUnpackedFrame = 64 << 20;

    private const int PaddingLookedAt = 256;

    private const byte HeaderUnsynchronised = 0x80;
    private const byte HeaderExtended = 0x40;
    private const byte HeaderFooter = 0x10;

    /// <summary>Length of the tag at the start of the file, in bytes; 0 when there is none.</summary>
    public static long LengthAtStart(Stream stream)
    {
        Span<byte> header = stackalloc byte[HeaderLength];
        stream.Position = 0;
        if (!stream.TryReadWhole(header) || LengthOf(header) is not { } length)
            return 0;
        return length + HeaderLength + ((header[5] & HeaderFooter) != 0 ? HeaderLength : 0);
    }

    public static TagReading ReadAtStart(Stream stream)
    {
        long length = LengthAtStart(stream);
        stream.Position = 0;
        if (length == 0)
            return new TagReading(new TagSet(), []);
        return stream.TryReadBlock(Math.Min(length, stream.Length)) is { } block
            ? Read(block)
            : new TagReading(new TagSet(), ["The tag could not be read."]);
    }

    /// <summary>Reads a tag inside a file.</summary>
    public static TagReading ReadAt(Stream stream, long offset, long length)
    {
        stream.Position = offset;
        return stream.TryReadBlock(length) is { } block ? Read(block) : new TagReading(new TagSet(), ["The tag could not be read."]);
    }

    /// <summary>Reads a whole tag, header included.</summary>
    /// <param name="block">The tag; its pictures keep it.</param>
    public static TagReading Read(ReadOnlyMemory<byte> block)
    {
        var tag = block.Span;
        var tags = new TagSet();
        var damage = new List<string>();
        if (tag.Length < HeaderLength || LengthOf(tag) is not { } length)
        {
            damage.Add("The tag does not start as an ID3v2 tag does.");
            return new TagReading(tags, damage);
        }

        int version = tag[3];
        byte flags = tag[5];
        var body = block[HeaderLength..];
        if (length > body.Length)
            damage.Add($"The tag claims {length} bytes, {body.Length} are there.");
        else
            body = body[..length];
        if ((flags & HeaderUnsynchronised) != 0 && version < 4)
            body = Unsynchronisation.Undo(body.Span);
        if ((flags & HeaderExtended) != 0 && version >= 3)
            body = SkipExtendedHeader(body, version);
        var parser = new Id3v2FrameParser(tags);
        ReadFrames(body, version, parser, damage);
        parser.Complete();
        return new TagReading(tags, damage);
    }

    /// <summary>The length stated in a header, without the header itself; null when there is no header.</summary>
    private static int? LengthOf(ReadOnlySpan<byte> header) =>
        header.StartsWith("ID3"u8) && header[3] is 2 or 3 or 4 ? Syncsafe.Read(header[6..]) : null;

    private static ReadOnlyMemory<byte> SkipExtendedHeader(ReadOnlyMemory<byte> body, int version)
    {
        if (body.Length < 4)
            return default;
        long length = version == 4 ? Syncsafe.Read(body.Span) ?? 0 : BinaryPrimitives.ReadUInt32BigEndian(body.Span) + 4L;
        return length <= body.Length ? body[(int)length..] : default;
    }

    private static void ReadFrames(ReadOnlyMemory<byte> rest, int version, Id3v2FrameParser parser, List<string> damage)
    {
        var body = rest.Span;
        int unpackedLeft = LongestUnpackedFrame;
        int headerLength = version == 2 ? 6 : 10;
        for (int count = 0; body.Length >= headerLength && body[0] != 0; count++)
        {
            if (count == Limits.MaxTagValues)
            {
                damage.Add(
                    string.Create(
                        CultureInfo.InvariantCulture, $"The tag has more than {Limits.MaxTagValues} frames; the rest was left out."));
                return;
            }

            if (IdAt(body, version) is not { } id || LengthAt(body, version) is not { } length)
            {
                damage.Add("A frame of the tag is damaged; the rest was skipped.");
                return;
            }

            var data = rest.Slice(headerLength, length);
            byte flags = version == 2 ? (byte)0 : body[9];
            rest = rest[(headerLength + length)..];
            body = rest.Span;
            if (Unwrap(data, flags, version, ref unpackedLeft) is { } content)
                parser.Add(id, content, version);
            else
                damage.Add($"The frame {id} is encrypted or damaged and was left out.");
        }
    }

    /// <summary>
    /// The identifier at the start of a frame, as it is today; null where there is none. Some programs write those of version 2.2
    /// with a blank or a zero in later versions.
    /// </summary>
    private static string? IdAt(ReadOnlySpan<byte> frame, int version)
    {
        var id = Encoding.Latin1.GetString(frame[..(version == 2 ? 3 : 4)]);
        if (version == 2)
            return Id3v2Frames.IsId(id) ? Id3v2Frames.Modernise(id) : null;
        if (Id3v2Frames.IsId(id))
            return id;
        return id[3] is ' ' or '\0' && Id3v2Frames.IsId(id.AsSpan(0, 3)) ? Id3v2Frames.Modernise(id[..3]) : null;
    }

    /// <summary>
    /// Bytes of content; null where more is claimed than there is. Some programs write plain numbers in version 2.4 where
    /// synchsafe ones belong: the one counts that leads to another frame, to padding or to the end.
    /// </summary>
    private static int? LengthAt(ReadOnlySpan<byte> frame, int version)
    {
        int left = frame.Length - (version == 2 ? 6 : HeaderLength);
        if (version == 2)
            return (frame[3] << 16 | frame[4] << 8 | frame[5]) is var old && old <= left ? old : null;
        uint plain = BinaryPrimitives.ReadUInt32BigEndian(frame[4..]);
        int? asPlain = plain <= left ? (int)plain : null;
        if (version == 3 || plain < 0x80)
            return asPlain;
        int? asSynchsafe = Syncsafe.Read(frame[4..]) is { } safe && safe <= left ? safe : null;
        if (asSynchsafe is { } one && LeadsOn(frame[(HeaderLength + one)..]))
            return one;
        return asPlain is { } other && LeadsOn(frame[(HeaderLength + other)..]) ? other : asSynchsafe ?? asPlain;
    }

    /// <summary>True for the end of a tag, padding, or the header of a frame.</summary>
    private static bool LeadsOn(ReadOnlySpan<byte> rest)
    {
        if (rest.Length < HeaderLength || rest[0] == 0)
            return rest[..Math.Min(rest.Length, PaddingLookedAt)].IndexOfAnyExcept((byte)0) < 0;
        return IdAt(rest, 4) is not null && BinaryPrimitives.ReadUInt32BigEndian(rest[4..]) is var length
            && (length <= rest.Length - HeaderLength || Syncsafe.Read(rest[4..]) <= rest.Length - HeaderLength);
    }

    /// <summary>Undoes what the frame's flags say was done to its content; null when that fails.</summary>
    private static ReadOnlyMemory<byte>? Unwrap(ReadOnlyMemory<byte> data, byte flags, int version, ref int unpackedLeft)
    {
        bool v4 = version == 4;
        bool compressed = (flags & (v4 ? 0x08 : 0x80)) != 0 && version > 2;
        bool encrypted = (flags & (v4 ? 0x04 : 0x40)) != 0 && version > 2;
        bool grouped = (flags & (v4 ? 0x40 : 0x20)) != 0 && version > 2;
        bool lengthStated = v4 ? (flags & 0x01) != 0 : compressed;
        int prefix = (grouped ? 1 : 0) + (lengthStated ? 4 : 0);
        if (encrypted || data.Length < prefix)
            return null;
        var content = data[prefix..];
        var plain = v4 && (flags & 0x02) != 0 ? Unsynchronisation.Undo(content.Span) : content;
        return compressed ? Unpack(plain.ToArray(), ref unpackedLeft) : plain;
    }

    /// <param name="left">Bytes left for all compressed frames of the tag together: a small file can claim any amount.</param>
    private static byte[]? Unpack(byte[] packed, ref int left)
    {
        using var zlib = new ZLibStream(new MemoryStream(packed), CompressionMode.Decompress);
        using var plain = new MemoryStream();
        var block = new byte[8192];
        try
        {
            int got;
            while ((got = zlib.Read(block)) > 0)
            {
                if ((left -= got) < 0)
                    return null;
                plain.Write(block, 0, got);
            }
        }
        catch (Exception damage) when (damage is InvalidDataException or IOException)
        {
            return null;
        }

        return plain.ToArray();
    }
}
