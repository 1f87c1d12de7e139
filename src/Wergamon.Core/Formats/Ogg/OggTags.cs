using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.VorbisComment;

namespace Wergamon.Core.Formats.Ogg;

/// <summary>
/// The comment packet of Vorbis (Vorbis I specification, section 5), Opus (RFC 7845, section 5.2) and FLAC in Ogg, with its pictures.
/// </summary>
public static class OggTags
{
    private static ReadOnlySpan<byte> VorbisStart => "\u0003vorbis"u8;

    private static ReadOnlySpan<byte> OpusStart => "OpusTags"u8;

    internal static byte[] VorbisPacket(TagSet tags) => Packet(VorbisStart, tags, [1]);

    internal static byte[] OpusPacket(TagSet tags) => Packet(OpusStart, tags, []);

    private static byte[] Packet(ReadOnlySpan<byte> start, TagSet tags, ReadOnlySpan<byte> end)
    {
        const int RoomForText = 8192;
        using var packet = new MemoryStream(RoomForText + tags.Pictures.Sum(picture => picture.Data.Length / 3 * 4 + 1024));
        packet.Write(start);
        VorbisCommentBlock.Write(packet, tags, withPictures: true);
        packet.Write(end);
        return packet.ToArray();
    }

    internal static TagReading Read(OggPages pages)
    {
        var tags = new TagSet();
        var damage = new List<string>();
        if (pages.FirstPackets(2) is not [_, var packet])
            return new TagReading(tags, ["The file ends before its tags."]);
        int start = packet.Span.StartsWith(VorbisStart) ? VorbisStart.Length : packet.Span.StartsWith(OpusStart) ? OpusStart.Length : 4;
        VorbisCommentBlock.Read(packet.Span[Math.Min(start, packet.Length)..], tags, damage);
        return new TagReading(tags, damage);
    }

    /// <summary>
    /// Room left behind the comments for later edits; decoders pass over it (RFC 7845, section 5.2; in Vorbis common practice, no source).
    /// </summary>
    private const int Padding = 2048;

    /// <summary>
    /// A file of one stream with another comment packet: of the same length where it fits, so that pages only get new checksums.
    /// Otherwise the header pages are rebuilt, and later ones renumbered if there are more or fewer.
    /// </summary>
    /// <param name="headerCount">Packets before the audio.</param>
    /// <param name="comment">The new comment packet.</param>
    /// <exception cref="UnreadableAudioException">Its pages cannot be distinguished.</exception>
    internal static TagEdit Edit(Stream source, int headerCount, byte[] comment)
    {
        using var pages = OpenWhole(source, headerCount, out var packets);
        var edit = new TagEdit();
        int room = packets[1].Length - comment.Length;
        if (room is >= 0 and <= TagEdit.MaxPadding)
        {
            Array.Resize(ref comment, comment.Length + room);
            edit.Add(pages.Refill([packets[0], comment, .. packets.Skip(2)]));
            edit.Keep(pages.Offset, source.Length - pages.Offset);
            return edit;
        }

        var head = new MemoryStream();
        var writer = new OggPageWriter(head, pages.Serial);
        OggWriter.WriteHeaders(
            writer, [packets[0].ToArray(), [.. comment, .. new byte[Padding]], .. packets.Skip(2).Select(packet => packet.ToArray())]);
        edit.Add(head.ToArray());
        if (writer.Sequence == pages.NextSequence)
        {
            edit.Keep(pages.Offset, source.Length - pages.Offset);
            return edit;
        }

        uint sequence = writer.Sequence;
        long at = pages.Offset;
        foreach (var page in pages.Rest())
        {
            if (OggPages.SerialOf(page.Span) == pages.Serial)
            {
                OggPages.Number(page.Span, sequence++);
                edit.Add(page[..OggPages.HeaderLength].ToArray());
                edit.Keep(at + OggPages.HeaderLength, page.Length - OggPages.HeaderLength);
            }
            else
            {
                edit.Keep(at, page.Length);
            }

            at += page.Length;
        }

        return edit;
    }

    /// <summary>A hash over all pages of audio but for their numbers and checksums.</summary>
    internal static string HashSound(Stream source, int headerCount)
    {
        using var pages = OpenWhole(source, headerCount, out _);
        var hash = new RangeHash();
        foreach (var page in pages.Rest())
        {
            page.Span.Slice(18, 8).Clear();
            hash.Add(page.Span);
        }

        return hash.ToString();
    }

    private static OggPages OpenWhole(Stream source, int headerCount, out IReadOnlyList<ReadOnlyMemory<byte>> packets)
    {
        packets = [];
        return OggPages.Open(source) is { } pages && (packets = pages.FirstPackets(headerCount)).Count == headerCount && pages.EndsOnPage
            ? pages
            : throw new UnreadableAudioException("The tags of this file cannot be changed: its header is damaged.");
    }
}
