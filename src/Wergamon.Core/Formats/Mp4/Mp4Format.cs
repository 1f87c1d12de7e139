using Wergamon.Core.Audio;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Formats.Mp4;

/// <summary>The MP4 family (ISO 14496-12): M4A, M4B, MP4, MOV. Only read.</summary>
public sealed class Mp4Format : FileFormat
{
    public static Mp4Format Instance { get; } = new();

    private Mp4Format() : base("mp4", "MP4") { }

    public override string? BrowserType(string codecName) => codecName == "AAC" ? "audio/mp4" : null;

    internal override OpenedFile? Open(Stream stream, ReadOnlySpan<byte> start) => Mp4Movie.Find(stream) is { } movie
        ? new OpenedFile(() => Mp4Header.Read(movie), () => Mp4Tags.Read(movie))
        : null;
}
