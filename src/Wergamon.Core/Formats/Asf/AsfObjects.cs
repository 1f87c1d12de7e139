using System.Buffers.Binary;
using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;

namespace Wergamon.Core.Formats.Asf;

/// <summary>The header object of an ASF file (Advanced Systems Format specification, section 3) and the objects in it.</summary>
internal sealed class AsfObjects
{
    public static readonly Guid FileProperties = new("8CABDCA1-A947-11CF-8EE4-00C00C205365");
    public static readonly Guid StreamProperties = new("B7DC0791-A9B7-11CF-8EE6-00C00C205365");
    public static readonly Guid HeaderExtension = new("5FBF03B5-A92E-11CF-8EE3-00C00C205365");
    public static readonly Guid ContentDescription = new("75B22633-668E-11CF-A6D9-00AA0062CE6C");
    public static readonly Guid ExtendedContentDescription = new("D2D0A440-E307-11D2-97F0-00A0C95EA850");
    public static readonly Guid MetadataLibrary = new("44231C94-9498-49D1-A141-1D134E457054");

    public static readonly Guid Padding = new("1806D474-CADF-4509-A4BA-9AABCB96AAE8");

    internal const int ObjectHeadLength = 24;

    /// <summary>GUID and 46 bytes of fields, the last of which is the length of the objects inside.</summary>
    internal const int ExtensionHeadLength = 22;

    internal static readonly Guid Header = new("75B22630-668E-11CF-A6D9-00AA0062CE6C");

    private readonly byte[] _content;

    private AsfObjects(byte[] content) => _content = content;

    /// <summary>Size of the header in bytes.</summary>
    public long Length => _content.Length + ObjectHeadLength;

    /// <summary>Null for another kind of file.</summary>
    /// <exception cref="UnreadableAudioException">The header is cut off.</exception>
    public static AsfObjects? Open(Stream stream)
    {
        Span<byte> head = stackalloc byte[ObjectHeadLength];
        stream.Position = 0;
        if (!stream.TryReadWhole(head) || new Guid(head[..16]) != Header)
            return null;
        ulong length = BinaryPrimitives.ReadUInt64LittleEndian(head[16..]);
        return length is >= ObjectHeadLength and <= Limits.MaxBlock && stream.TryReadBlock((long)length - ObjectHeadLength) is { } content
            ? new AsfObjects(content)
            : throw new UnreadableAudioException("The header of the file is cut off.");
    }

    /// <summary>The objects in the header, in order.</summary>
    public IEnumerable<(Guid Kind, ReadOnlyMemory<byte> Content)> Top => Walk(_content.AsMemory(Math.Min(6, _content.Length)));

    /// <summary>The contents of all objects of a kind, those in the header extension included.</summary>
    public IEnumerable<ReadOnlyMemory<byte>> All(Guid kind)
    {
        // The number of objects and two reserved bytes come first.
        foreach (var (found, content) in Top)
        {
            if (found == kind)
                yield return content;
            if (found != HeaderExtension || content.Length < ExtensionHeadLength)
                continue;
            foreach (var (inner, innerContent) in Walk(content[ExtensionHeadLength..]))
            {
                if (inner == kind)
                    yield return innerContent;
            }
        }
    }

    internal static IEnumerable<(Guid Kind, ReadOnlyMemory<byte> Content)> Walk(ReadOnlyMemory<byte> objects)
    {
        for (int i = 0; i < Limits.MaxParts && objects.Length >= ObjectHeadLength; i++)
        {
            ulong length = BinaryPrimitives.ReadUInt64LittleEndian(objects.Span[16..]);
            if (length < ObjectHeadLength || length > (ulong)objects.Length)
                yield break;
            yield return (new Guid(objects.Span[..16]), objects[ObjectHeadLength..(int)length]);
            objects = objects[(int)length..];
        }
    }
}
