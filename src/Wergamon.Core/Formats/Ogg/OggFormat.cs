using Wergamon.Core.Audio;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Formats.Ogg;

/// <summary>Ogg (RFC 3533) with Vorbis, Opus or FLAC. Only read.</summary>
public sealed class OggFormat : FileFormat
{
    public static OggFormat Instance { get; } = new();

    private OggFormat() : base("ogg", "Ogg") { }

    public override string? BrowserType(string codecName) => codecName is "Vorbis" or "Opus" ? "audio/ogg" : null;

    internal override OpenedFile? Open(Stream stream, ReadOnlySpan<byte> start) => OggPages.Open(stream) is { } pages
        ? new OpenedFile(() => OggHeader.Read(stream, pages), () => OggTags.Read(pages))
        : null;
}
