using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Ape;

namespace Wergamon.Core.Formats.WavPack;

/// <summary>WavPack files. Read, and their tags written.</summary>
public sealed class WavPackFormat : TaggedFormat
{
    public static WavPackFormat Instance { get; } = new();

    private WavPackFormat() : base("wavpack", "WavPack") { }

    public override TagDialect Dialect => ApeDialect.Instance;

    public override TagEdit EditTags(Stream source, TagSet tags, TagWriteOptions options) =>
        TagsAroundSound.EditAtEnd(source, tags, options);

    public override string HashSound(Stream stream) => TagsAroundSound.HashSound(stream);

    internal override OpenedFile? Open(Stream stream, ReadOnlySpan<byte> start) => WavPackHeader.Recognises(start)
        ? new OpenedFile(this, () => WavPackHeader.Read(stream), () => TagsAroundSound.Read(stream))
        : null;
}
