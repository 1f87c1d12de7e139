using System.Text;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.VorbisComment;

namespace Wergamon.Core.Formats.Flac;

/// <summary>Tags in the metadata blocks of FLAC; application blocks and cue sheets are opaque fields.</summary>
public sealed class FlacDialect : TagDialect
{
    public static FlacDialect Instance { get; } = new();

    private FlacDialect() { }

    public override string Name => "Vorbis comment, FLAC blocks";

    public override string NameOf(string field) => VorbisCommentBlock.NameOf(field);

    public override bool CanHold(TagField field) => VorbisCommentBlock.CanHold(field);

    public override bool CanHold(PictureEntry picture) =>
        picture.Bytes + Encoding.UTF8.GetByteCount(picture.Description) + picture.MimeType.Length
            + FlacPictureBlock.FixedLength <= FlacTags.LongestBlock;

    public override bool CanHold(OpaqueEntry field) => field.Dialect == FlacTags.Dialect;

    protected override long LengthOf(TagSet tags)
    {
        using var stream = new MemoryStream();
        FlacTags.Write(stream, new byte[FlacStreamInfo.Length], tags);
        return stream.Length;
    }
}
