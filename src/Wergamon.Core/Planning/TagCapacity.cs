using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Id3v2;
using Wergamon.Core.Tags.VorbisComment;

namespace Wergamon.Core.Planning;

/// <summary>What of a file's tags each dialect can hold and how many bytes they take there.</summary>
/// <param name="Total">Fields, pictures and kept frames in all.</param>
/// <param name="HeldById3">How many of them an ID3v2 tag holds (MP3, AIFF, WAV).</param>
/// <param name="HeldByFlac">How many of them FLAC holds.</param>
public sealed record TagCapacity(int Total, int HeldById3, int HeldByFlac, long Id3Bytes, long FlacBytes)
{
    public static TagCapacity Of(TagSet tags)
    {
        int total = tags.Fields.Count + tags.Pictures.Count + tags.Opaque.Count;
        int notId3 = tags.Opaque.Count(field => !Id3v2Writer.CanHold(field));
        int notFlac = tags.Opaque.Count(field => !FlacTags.CanHold(field)) + tags.Fields.Count(field => !VorbisCommentBlock.CanHold(field))
            + tags.Pictures.Count(picture => !FlacTags.CanHold(picture));
        return new TagCapacity(total, total - notId3, total - notFlac, Id3v2Writer.Write(tags).Length, FlacTags.LengthOf(tags));
    }

    public int HeldBy(FileKind kind) => kind == FileKind.Flac ? HeldByFlac : HeldById3;
}
