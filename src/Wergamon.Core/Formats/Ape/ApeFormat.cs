using Wergamon.Core.Audio;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Formats.Ape;

/// <summary>APE files. Only read.</summary>
public sealed class ApeFormat : FileFormat
{
    public static ApeFormat Instance { get; } = new();

    private ApeFormat() : base("ape", "APE") { }

    internal override OpenedFile? Open(Stream stream, ReadOnlySpan<byte> start) => ApeHeader.Recognises(stream)
        ? new OpenedFile(this, () => ApeHeader.Read(stream), () => TagsAroundSound.Read(stream))
        : null;
}
