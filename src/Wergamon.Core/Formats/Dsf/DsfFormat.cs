using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Id3v2;

namespace Wergamon.Core.Formats.Dsf;

/// <summary>One-bit sound in DSF files (DSF File Format Specification 1.01, from memory; held against libavformat). Only read.</summary>
public sealed class DsfFormat : FileFormat
{
    private const int HeadLength = 28;
    private const int FormatLength = 52;

    public static DsfFormat Instance { get; } = new();

    private DsfFormat() : base("dsf", "DSF") { }

    internal override OpenedFile? Open(Stream stream, ReadOnlySpan<byte> start)
    {
        if (!start.StartsWith("DSD "u8))
            return null;
        stream.Position = 0;
        var head = stream.TryReadBlock(Math.Min(stream.Length, HeadLength + FormatLength)) ?? [];
        return new OpenedFile(this, () => ReadFacts(head, stream.Length), () => ReadTags(head, stream));
    }

    private AudioFacts ReadFacts(byte[] head, long fileLength)
    {
        var cursor = new ByteCursor(head);
        cursor.Skip(HeadLength + 4 + 8 + 4 + 4 + 4);
        int channels = (int)Math.Min(int.MaxValue, cursor.UInt32LittleEndian());
        uint rate = cursor.UInt32LittleEndian();
        cursor.Skip(4);
        ulong samples = cursor.UInt64LittleEndian();
        if (cursor.IsPastEnd || !head.AsSpan(HeadLength).StartsWith("fmt "u8) || OneBitSound.FormatOf(channels, rate) is not { } format)
            throw new UnreadableAudioException("The DSF file does not say what sound it holds.");
        return OneBitSound.Facts(this, format, (long)(samples / OneBitSound.SamplesPerByte), rate, fileLength);
    }

    /// <summary>The tag is where the header points to.</summary>
    private static TagReading ReadTags(byte[] head, Stream stream)
    {
        var cursor = new ByteCursor(head);
        cursor.Skip(4 + 8 + 8);
        ulong at = cursor.UInt64LittleEndian();
        return at > 0 && at < (ulong)stream.Length ? Id3v2Reader.ReadAt(stream, (long)at, stream.Length - (long)at) : new TagReading(new TagSet(), []);
    }
}
