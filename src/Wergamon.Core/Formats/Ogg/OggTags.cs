using Wergamon.Core.Tags;
using Wergamon.Core.Tags.VorbisComment;

namespace Wergamon.Core.Formats.Ogg;

/// <summary>The comment packet of Vorbis, Opus (RFC 7845, section 5.2) and FLAC in Ogg, with its pictures. Read only.</summary>
public static class OggTags
{
    internal static TagReading Read(OggPages pages)
    {
        var tags = new TagSet();
        var damage = new List<string>();
        if (pages.FirstPackets(2) is not [_, var packet])
            return new TagReading(tags, ["The file ends before its tags."]);
        int start = packet.Span.StartsWith("\u0003vorbis"u8) ? 7 : packet.Span.StartsWith("OpusTags"u8) ? 8 : 4;
        VorbisCommentBlock.Read(packet.Span[Math.Min(start, packet.Length)..], tags, damage);
        return new TagReading(tags, damage);
    }
}
