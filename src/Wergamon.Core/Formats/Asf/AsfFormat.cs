using Wergamon.Core.Audio;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Formats.Asf;

/// <summary>Advanced Systems Format, the container of WMA. Only read.</summary>
public sealed class AsfFormat : FileFormat
{
    public static AsfFormat Instance { get; } = new();

    private AsfFormat() : base("asf", "ASF") { }

    internal override OpenedFile? Open(Stream stream, ReadOnlySpan<byte> start) => AsfObjects.Open(stream) is { } objects
        ? new OpenedFile(this, () => AsfHeader.Read(stream, objects), () => AsfTags.Read(objects))
        : null;
}
