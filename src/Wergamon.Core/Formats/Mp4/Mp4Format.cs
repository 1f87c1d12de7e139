namespace Wergamon.Core.Formats.Mp4;

/// <summary>
/// The MP4 family (ISO/IEC 14496-12), the container of several codecs; with one that has no format of its own, or as a movie, only read.
/// </summary>
public sealed class Mp4Format : FileFormat
{
    private readonly IReadOnlyList<FileFormat> _codecs;

    /// <param name="codecs">The formats whose codecs, by their names, this container can hold.</param>
    internal Mp4Format(IReadOnlyList<FileFormat> codecs) : base("mp4", "MP4") => _codecs = codecs;

    public override string? BrowserType(string codecName) => codecName == "AAC" ? "audio/mp4" : null;

    internal override OpenedFile? Open(Stream stream, ReadOnlySpan<byte> start)
    {
        if (Mp4Movie.Find(stream) is not { } movie)
            return null;
        var codec = Mp4Header.CodecOf(movie);
        var format = _codecs.FirstOrDefault(each => each.Name == codec) ?? this;
        return new OpenedFile(format, () => Mp4Header.Read(movie, format), () => Mp4Tags.Read(movie));
    }
}
