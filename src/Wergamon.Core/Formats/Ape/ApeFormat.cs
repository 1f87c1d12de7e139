using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Ape;

namespace Wergamon.Core.Formats.Ape;

/// <summary>APE files. Read, and their tags written.</summary>
public sealed class ApeFormat : TaggedFormat
{
    public static ApeFormat Instance { get; } = new();

    private ApeFormat() : base("ape", "APE") { }

    public override TagDialect Dialect => ApeDialect.Instance;

    public override TagEdit EditTags(Stream source, TagSet tags, TagWriteOptions options) =>
        TagsAroundSound.EditAtEnd(source, tags, options);

    public override string HashSound(Stream stream) => TagsAroundSound.HashSound(stream);

    internal override OpenedFile? Open(Stream stream, ReadOnlySpan<byte> start) => ApeHeader.Recognises(stream)
        ? new OpenedFile(this, () => ApeHeader.Read(stream), () => TagsAroundSound.Read(stream))
        : null;
}
