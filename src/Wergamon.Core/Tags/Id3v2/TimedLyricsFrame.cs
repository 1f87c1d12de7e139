using System.Buffers;
using System.Buffers.Binary;
using Wergamon.Core.Bytes;

namespace Wergamon.Core.Tags.Id3v2;

/// <summary>Synchronised lyrics (ID3v2.4.0 - Native Frames, 4.9), with times in milliseconds.</summary>
internal static class TimedLyricsFrame
{
    public const string Id = "SYLT";

    private const byte Milliseconds = 2;
    private const byte Lyrics = 1;

    /// <summary>The lines; null where they are no lyrics or counted in frames of MPEG.</summary>
    public static IReadOnlyList<TimedLine>? LinesOf(ReadOnlySpan<byte> frame)
    {
        var cursor = new ByteCursor(frame);
        var encoding = (Id3v2Encoding)cursor.Byte();
        cursor.Skip(3);
        if (cursor.Byte() != Milliseconds || cursor.Byte() != Lyrics)
            return null;
        var rest = cursor.Rest;
        Id3v2Text.TakeString(ref rest, encoding);
        var entries = new List<(string Words, TimeSpan Time)>();
        while (!rest.IsEmpty)
        {
            var words = Id3v2Text.TakeString(ref rest, encoding);
            if (rest.Length < 4 || entries.Count == Limits.MaxParts)
                return null;
            entries.Add((words, TimeSpan.FromMilliseconds(BinaryPrimitives.ReadUInt32BigEndian(rest))));
            rest = rest[4..];
        }

        // Where a frame holds single words, a line starts with a line feed.
        bool areWords = entries.Exists(entry => entry.Words.StartsWith('\n'));
        var lines = new List<TimedLine>();
        foreach (var (words, time) in entries)
        {
            if (!areWords || lines.Count == 0 || words.StartsWith('\n'))
                lines.Add(new TimedLine(time, Plain(words)));
            else
                lines[^1] = lines[^1] with { Words = lines[^1].Words + Plain(words) };
        }

        return lines.Count > 0 ? lines : null;
    }

    public static byte[] Write(IReadOnlyList<TimedLine> lines, Id3v2Encoding encoding)
    {
        var frame = new ArrayBufferWriter<byte>();
        frame.Write<byte>([(byte)encoding, (byte)'e', (byte)'n', (byte)'g', Milliseconds, Lyrics]);
        Id3v2Text.Write(frame, "", encoding, ended: true);
        Span<byte> time = stackalloc byte[4];
        foreach (var line in lines)
        {
            Id3v2Text.Write(frame, line.Words, encoding, ended: true);
            BinaryPrimitives.WriteUInt32BigEndian(time, (uint)line.Time.TotalMilliseconds);
            frame.Write(time);
        }

        return frame.WrittenSpan.ToArray();
    }

    /// <summary>True for a frame that says nothing beyond its lines.</summary>
    public static bool IsPlain(ReadOnlySpan<byte> frame, IReadOnlyList<TimedLine> lines) =>
        !frame.IsEmpty && frame[0] <= (byte)Id3v2Encoding.Utf8 && frame.SequenceEqual(Write(lines, (Id3v2Encoding)frame[0]));

    private static string Plain(string words) => words.Replace("\r", "", StringComparison.Ordinal).Trim('\n').Replace('\n', ' ');
}
