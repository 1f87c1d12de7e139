using Wergamon.Core.Formats.Wma;

namespace Wergamon.Core.Formats.Asf;

/// <summary>Advanced Systems Format, the container of <see cref="WmaFormat"/>; with another codec, or as a movie, only read.</summary>
public sealed class AsfFormat : FileFormat
{
    public static AsfFormat Instance { get; } = new();

    private AsfFormat() : base("asf", "ASF") { }

    internal override OpenedFile? Open(Stream stream, ReadOnlySpan<byte> start)
    {
        if (AsfObjects.Open(stream) is not { } objects)
            return null;
        var format = AsfHeader.IsPlainWma(objects) ? (FileFormat)WmaFormat.Instance : this;
        return new OpenedFile(format, () => AsfHeader.Read(stream, objects, format), () => AsfTags.Read(objects));
    }
}
