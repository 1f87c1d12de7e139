using Wergamon.Core.Tags;
using Wergamon.Core.Tags.VorbisComment;

namespace Wergamon.Core.Formats.Ogg;

/// <summary>Vorbis comments with pictures among them, as in Ogg files.</summary>
public sealed class OggDialect : TagDialect
{
    public static OggDialect Instance { get; } = new();

    private OggDialect() { }

    public override string Name => "Vorbis comment";

    public override string NameOf(string field) => VorbisCommentBlock.NameOf(field);

    public override bool CanHold(TagField field) => VorbisCommentBlock.CanHold(field);

    public override bool CanHold(OpaqueEntry field) => false;

    /// <summary>Base64 makes four bytes of three.</summary>
    public override long LengthOf(TagContents tags) => base.LengthOf(tags) + tags.Pictures.Sum(picture => (picture.Bytes + 2) / 3);

    protected override long LengthOf(TagSet tags) => VorbisCommentBlock.Write(tags, withPictures: true).Length;
}
