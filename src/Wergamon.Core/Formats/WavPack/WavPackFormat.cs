using Wergamon.Core.Audio;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Formats.WavPack;

/// <summary>WavPack files. Only read.</summary>
public sealed class WavPackFormat : FileFormat
{
    public static WavPackFormat Instance { get; } = new();

    private WavPackFormat() : base("wavpack", "WavPack") { }

    internal override OpenedFile? Open(Stream stream, ReadOnlySpan<byte> start) => WavPackHeader.Recognises(start)
        ? new OpenedFile(this, () => WavPackHeader.Read(stream), () => TagsAroundSound.Read(stream))
        : null;
}
