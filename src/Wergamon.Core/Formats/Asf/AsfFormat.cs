namespace Wergamon.Core.Formats.Asf;

/// <summary>Advanced Systems Format; with another codec than plain Windows Media Audio, or as a movie, only read.</summary>
public sealed class AsfFormat : FileFormat
{
    private readonly FileFormat _plain;

    /// <param name="plain">The format of a file that holds one stream of plain Windows Media Audio and nothing else.</param>
    internal AsfFormat(FileFormat plain) : base("asf", "ASF") => _plain = plain;

    internal override OpenedFile? Open(Stream stream, ReadOnlySpan<byte> start)
    {
        if (AsfObjects.Open(stream) is not { } objects)
            return null;
        var format = AsfHeader.IsPlainWma(objects) ? _plain : this;
        return new OpenedFile(format, () => AsfHeader.Read(stream, objects, format), () => AsfTags.Read(objects));
    }
}
