namespace Wergamon.Core.Formats.Ogg;

/// <summary>Ogg (RFC 3533), the container of several codecs; with one that has no format of its own, only read.</summary>
public sealed class OggFormat : FileFormat
{
    private readonly IReadOnlyList<IOggCodec> _codecs;

    internal OggFormat(IReadOnlyList<IOggCodec> codecs) : base("ogg", "Ogg") => _codecs = codecs;

    internal override OpenedFile? Open(Stream stream, ReadOnlySpan<byte> start)
    {
        if (OggPages.Open(stream) is not { } pages)
            return null;
        var codec = pages.FirstPackets(1) is [var first, ..] ? _codecs.FirstOrDefault(each => each.Recognises(first.Span)) : null;
        var format = codec?.Format ?? this;
        return new OpenedFile(format, () => OggHeader.Read(stream, pages, format, codec), () => OggTags.Read(pages)) { Shared = pages };
    }
}
