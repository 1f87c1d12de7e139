using Wergamon.Core.Formats.Aac;
using Wergamon.Core.Formats.Alac;

namespace Wergamon.Core.Formats.Mp4;

/// <summary>
/// The MP4 family (ISO/IEC 14496-12), the container of <see cref="AacFormat"/> and <see cref="AlacFormat"/>; with another codec, or as a
/// movie, only read.
/// </summary>
public sealed class Mp4Format : FileFormat
{
    public static Mp4Format Instance { get; } = new();

    private Mp4Format() : base("mp4", "MP4") { }

    public override string? BrowserType(string codecName) => codecName == "AAC" ? "audio/mp4" : null;

    internal override OpenedFile? Open(Stream stream, ReadOnlySpan<byte> start)
    {
        if (Mp4Movie.Find(stream) is not { } movie)
            return null;
        var format = Mp4Header.CodecOf(movie) switch
        {
            "AAC" => AacFormat.Instance,
            "ALAC" => (FileFormat)AlacFormat.Instance,
            _ => this,
        };
        return new OpenedFile(format, () => Mp4Header.Read(movie, format), () => Mp4Tags.Read(movie));
    }
}
