using System.Buffers.Binary;
using System.Security.Cryptography;
using Wergamon.Core.Audio;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.VorbisComment;

namespace Wergamon.Core.Formats.Ogg;

/// <summary>The comment packet of Vorbis (Vorbis I specification, section 5), Opus (RFC 7845, section 5.2) and FLAC in Ogg, with its pictures.</summary>
public static class OggTags
{
    private static ReadOnlySpan<byte> VorbisStart => "\u0003vorbis"u8;

    private static ReadOnlySpan<byte> OpusStart => "OpusTags"u8;

    internal static byte[] VorbisPacket(TagSet tags) => [.. VorbisStart, .. VorbisCommentBlock.Write(tags, withPictures: true), 1];

    internal static byte[] OpusPacket(TagSet tags) => [.. OpusStart, .. VorbisCommentBlock.Write(tags, withPictures: true)];

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

    /// <summary>Copies a file of one stream with another comment packet: header pages are made anew, all later ones numbered anew.</summary>
    /// <param name="headerCount">Packets before the audio.</param>
    /// <param name="comment">The new comment packet.</param>
    /// <exception cref="UnreadableAudioException">Its pages cannot be told apart.</exception>
    internal static void Rewrite(Stream source, Stream target, int headerCount, byte[] comment)
    {
        var pages = OpenWhole(source, headerCount, out var packets);
        var writer = new OggPageWriter(target, pages.Serial);
        OggWriter.WriteHeaders(writer, [packets[0].ToArray(), comment, .. packets.Skip(2).Select(packet => packet.ToArray())]);
        uint sequence = writer.Sequence;
        foreach (var page in pages.Rest())
        {
            if (BinaryPrimitives.ReadUInt32LittleEndian(page[14..].Span) == pages.Serial)
            {
                BinaryPrimitives.WriteUInt32LittleEndian(page[18..].Span, sequence++);
                page.Span.Slice(22, 4).Clear();
                BinaryPrimitives.WriteUInt32LittleEndian(page[22..].Span, OggCrc.Append(0, page.Span));
            }

            target.Write(page.Span);
        }
    }

    /// <summary>SHA-256 over all pages of audio but for their numbers and checksums.</summary>
    internal static string HashSound(Stream source, int headerCount)
    {
        var pages = OpenWhole(source, headerCount, out _);
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        foreach (var page in pages.Rest())
        {
            page.Span.Slice(18, 8).Clear();
            hash.AppendData(page.Span);
        }

        return Convert.ToHexStringLower(hash.GetHashAndReset());
    }

    private static OggPages OpenWhole(Stream source, int headerCount, out IReadOnlyList<ReadOnlyMemory<byte>> packets)
    {
        packets = [];
        return OggPages.Open(source) is { } pages && (packets = pages.FirstPackets(headerCount)).Count == headerCount && pages.EndsOnPage
            ? pages
            : throw new UnreadableAudioException("The tags of this file cannot be rewritten: its header is damaged.");
    }
}
