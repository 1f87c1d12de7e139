using Wergamon.Core.Audio.Headers;
using Wergamon.Core.Tags.VorbisComment;

namespace Wergamon.Core.Tags.Ogg;

/// <summary>The comment packet of Vorbis, Opus (RFC 7845, section 5.2) and FLAC in Ogg, with its pictures. Read only.</summary>
public static class OggTags
{
    /// <summary>A FLAC picture block in base64 (common practice, no source).</summary>
    private const string PictureField = "METADATA_BLOCK_PICTURE";

    internal static TagReading Read(OggPages pages)
    {
        var tags = new TagSet();
        var damage = new List<string>();
        if (pages.FirstPackets(2) is not [_, var packet])
            return new TagReading(tags, ["The file ends before its tags."]);
        int start = packet.AsSpan().StartsWith("\u0003vorbis"u8) ? 7 : packet.AsSpan().StartsWith("OpusTags"u8) ? 8 : 4;
        VorbisCommentBlock.Read(packet.AsSpan(Math.Min(start, packet.Length)), tags, damage);
        foreach (var text in tags[PictureField])
        {
            if (Decode(text) is { } block && FlacPictureBlock.Read(block) is { } picture)
                tags.Pictures.Add(picture);
            else
                damage.Add("A picture is damaged and was left out.");
        }

        tags.Set(PictureField);
        return new TagReading(tags, damage);
    }

    private static byte[]? Decode(string text)
    {
        var bytes = new byte[text.Length * 3 / 4 + 3];
        return Convert.TryFromBase64String(text, bytes, out int length) ? bytes[..length] : null;
    }
}
