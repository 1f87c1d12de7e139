using Wergamon.Core.Formats.Opus;
using Wergamon.Core.Formats.Vorbis;

namespace Wergamon.Core.Formats.Ogg;

/// <summary>
/// Ogg (RFC 3533), the container of <see cref="VorbisFormat"/> and <see cref="OpusFormat"/>; with FLAC or something else in it only read.
/// </summary>
public sealed class OggFormat : FileFormat
{
    public static OggFormat Instance { get; } = new();

    private OggFormat() : base("ogg", "Ogg") { }

    internal override OpenedFile? Open(Stream stream, ReadOnlySpan<byte> start)
    {
        if (OggPages.Open(stream) is not { } pages)
            return null;
        var format = pages.FirstPackets(1) switch
        {
            [var first, ..] when first.Span.StartsWith(VorbisFormat.Mark) => VorbisFormat.Instance,
            [var first, ..] when first.Span.StartsWith(OpusFormat.Mark) => (FileFormat)OpusFormat.Instance,
            _ => this,
        };
        return new OpenedFile(format, () => OggHeader.Read(stream, pages, format), () => OggTags.Read(pages)) { Shared = pages };
    }
}
