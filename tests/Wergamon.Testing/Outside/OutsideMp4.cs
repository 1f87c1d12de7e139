using System.Buffers.Binary;
using System.Text;

namespace Wergamon.Testing.Outside;

/// <summary>
/// The packets of the first track of an MP4 file, and how they are to be decoded, by a few lines of our tests' own: ISO/IEC 14496-12, 4.2
/// (boxes) and 8.7 (stsc, stsz, stco).
/// </summary>
public sealed class OutsideMp4
{
    private static readonly string[] Containers = ["moov", "trak", "mdia", "minf", "stbl"];

    private readonly Dictionary<string, ReadOnlyMemory<byte>> _boxes = [];

    public OutsideMp4(string path)
    {
        var file = File.ReadAllBytes(path);
        Walk(file);
        Packets = [.. PacketsOf(file)];
    }

    public IReadOnlyList<ReadOnlyMemory<byte>> Packets { get; }

    /// <summary>The first sample entry, its own head included.</summary>
    public ReadOnlyMemory<byte> Entry => _boxes["stsd"][8..];

    private void Walk(ReadOnlyMemory<byte> boxes)
    {
        while (boxes.Length >= 8)
        {
            // A length of 1 says that the real one follows, in 64 bits.
            var (length, head) = UInt(boxes, 0) is 1 ? ((int)UInt(boxes, 12), 16) : ((int)UInt(boxes, 0), 8);
            var type = Encoding.Latin1.GetString(boxes.Span[4..8]);
            var content = boxes[head..length];
            _boxes.TryAdd(type, content);
            if (Containers.Contains(type))
                Walk(content);
            boxes = boxes[length..];
        }
    }

    private IEnumerable<ReadOnlyMemory<byte>> PacketsOf(ReadOnlyMemory<byte> file)
    {
        var (sizes, runs, chunks) = (_boxes["stsz"], _boxes["stsc"], _boxes["stco"]);
        int packet = 0, run = 0;
        for (int chunk = 1; chunk <= UInt(chunks, 4); chunk++)
        {
            if (run + 1 < UInt(runs, 4) && UInt(runs, 8 + 12 * (run + 1)) == chunk)
                run++;
            int at = (int)UInt(chunks, 4 + 4 * chunk);
            for (int i = 0; i < UInt(runs, 12 + 12 * run); i++, packet++)
            {
                int length = (int)(UInt(sizes, 4) is > 0 and var same ? same : UInt(sizes, 12 + 4 * packet));
                yield return file.Slice(at, length);
                at += length;
            }
        }
    }

    private static uint UInt(ReadOnlyMemory<byte> bytes, int at) => BinaryPrimitives.ReadUInt32BigEndian(bytes.Span[at..]);
}
