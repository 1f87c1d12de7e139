using System.Buffers.Binary;
using System.Text;
using Wergamon.Core.Bytes;

namespace Wergamon.Core.Tags.Id3v2;

/// <summary>Chapters and their table of contents (ID3v2 Chapter Frame Addendum 1.0).</summary>
internal static class ChapterFrames
{
    public const string Id = "CHAP", ContentsId = "CTOC";

    private const string TitleId = "TIT2";
    private const byte TopLevelAndOrdered = 3;
    private const int MaxChapters = 255;

    /// <summary>The chapters of a tag in order of time, nested ones among the others.</summary>
    public static IReadOnlyList<ChapterMark> MarksOf(IEnumerable<OpaqueField> frames) =>
        [
            .. frames.Where(frame => frame.Id == Id)
                .Select(frame => MarkOf(frame.Data.Span))
                .OfType<ChapterMark>()
                .OrderBy(mark => mark.Start)
        ];

    /// <summary>Frames for the chapters and one for their order. Each ends where the next starts; the last has no end of its own.</summary>
    public static List<OpaqueField> Write(IReadOnlyList<ChapterMark> marks, Id3v2WriteOptions options)
    {
        var frames = new List<OpaqueField>();
        // Unsynchronisation is applied to the outer frame, once.
        options = options with { Unsynchronise = false };
        for (int i = 0; i < marks.Count; i++)
        {
            using var frame = new MemoryStream();
            frame.Write(ElementOf(i));
            WriteUInt32(frame, (uint)marks[i].Start.TotalMilliseconds);
            WriteUInt32(frame, i + 1 < marks.Count ? (uint)marks[i + 1].Start.TotalMilliseconds : uint.MaxValue);
            // Byte positions are not stated.
            WriteUInt32(frame, uint.MaxValue);
            WriteUInt32(frame, uint.MaxValue);
            if (marks[i].Title.Length > 0)
                new Id3v2FrameWriter(frame, options).Text(TitleId, [marks[i].Title]);
            frames.Add(new OpaqueField(Id3v2FrameParser.Dialect, Id, frame.ToArray()));
        }

        using var contents = new MemoryStream();
        contents.Write("toc\0"u8);
        contents.Write([TopLevelAndOrdered, (byte)Math.Min(marks.Count, MaxChapters)]);
        for (int i = 0; i < Math.Min(marks.Count, MaxChapters); i++)
            contents.Write(ElementOf(i));
        frames.Add(new OpaqueField(Id3v2FrameParser.Dialect, ContentsId, contents.ToArray()));
        return frames;
    }

    /// <summary>True for frames that say nothing beyond these chapters.</summary>
    public static bool IsPlain(IReadOnlyList<OpaqueField> frames, IReadOnlyList<ChapterMark> marks) =>
        AreEqual(frames, Write(marks, new Id3v2WriteOptions(Version: 3)))
            || AreEqual(frames, Write(marks, new Id3v2WriteOptions(Version: 4)));

    private static bool AreEqual(IReadOnlyList<OpaqueField> some, List<OpaqueField> others) =>
        some.Count == others.Count
            && some.Zip(others).All(pair => pair.First.Id == pair.Second.Id && pair.First.Data.Span.SequenceEqual(pair.Second.Data.Span));

    private static byte[] ElementOf(int index) =>
        Encoding.ASCII.GetBytes(string.Create(System.Globalization.CultureInfo.InvariantCulture, $"chapter {index + 1}\0"));

    private static ChapterMark? MarkOf(ReadOnlySpan<byte> frame)
    {
        var cursor = new ByteCursor(frame);
        int element = cursor.Rest.IndexOf((byte)0);
        cursor.Skip(element < 0 ? long.MaxValue : element + 1);
        uint start = cursor.UInt32BigEndian();
        cursor.Skip(12);
        return cursor.IsPastEnd || start == uint.MaxValue ? null : new ChapterMark(TimeSpan.FromMilliseconds(start), TitleOf(ref cursor));
    }

    private static string TitleOf(ref ByteCursor frames)
    {
        while (frames.Left > Id3v2Reader.HeaderLength)
        {
            bool isTitle = frames.Take(4).SequenceEqual("TIT2"u8);
            var size = frames.Take(4);
            frames.Skip(2);
            // The length is plain in version 2.3 and synchsafe in 2.4; which of them the tag had is not known here.
            long plain = BinaryPrimitives.ReadUInt32BigEndian(size);
            var content = frames.Take(plain <= frames.Left ? plain : Syncsafe.Read(size) ?? long.MaxValue);
            if (isTitle && content.Length > 1)
                return string.Join(
                    " / ",
                    Id3v2Text.TakeAll(content[1..], (Id3v2Encoding)content[0])
                        .Select(text => text.ReplaceLineEndings(" ").Trim())
                        .Where(text => text.Length > 0));
        }

        return "";
    }

    private static void WriteUInt32(MemoryStream stream, uint value)
    {
        Span<byte> bytes = stackalloc byte[4];
        BinaryPrimitives.WriteUInt32BigEndian(bytes, value);
        stream.Write(bytes);
    }
}
