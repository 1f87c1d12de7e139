using System.Text;
using Wergamon.Core.Bytes;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Formats.Mp4;

/// <summary>
/// The list of chapters in the user data of a movie box (common practice, no source): times of 100 ns and titles of up to 255 bytes.
/// </summary>
internal static class Mp4Chapters
{
    private const int MaxChapters = byte.MaxValue, MaxTitle = byte.MaxValue;

    /// <summary>True where the list can say all values of the field; others go into a free-form item.</summary>
    public static bool CanHold(IReadOnlyList<string> values) =>
        ChapterMark.Parse(values) is { Count: <= MaxChapters } marks
            && marks.All(mark => Encoding.UTF8.GetByteCount(mark.Title) <= MaxTitle);

    /// <param name="userData">Content of the user data box.</param>
    public static IReadOnlyList<string> Read(ReadOnlySpan<byte> userData)
    {
        var cursor = new ByteCursor(Mp4Movie.Child(userData, "chpl"u8));
        bool isLong = cursor.Byte() > 0;
        cursor.Skip(isLong ? 7 : 3);
        int count = cursor.Byte();
        var values = new List<string>();
        for (int i = 0; i < count; i++)
        {
            ulong start = cursor.UInt64BigEndian();
            var title = Encoding.UTF8.GetString(cursor.Take(cursor.Byte()));
            if (cursor.IsPastEnd || start >= TimeSpan.TicksPerDay)
                break;
            values.Add(
                new ChapterMark(
                    new TimeSpan((long)start),
                    title.Replace("\0", "", StringComparison.Ordinal).ReplaceLineEndings(" ").Trim()).ToString());
        }

        return values;
    }

    public static void Write(BoxWriter boxes, IReadOnlyList<string> values)
    {
        if (!CanHold(values))
            return;
        var marks = ChapterMark.Parse(values)!;
        using (boxes.OpenFull("chpl"u8, version: 1))
        {
            boxes.Zeros(4);
            boxes.Byte(marks.Count);
            foreach (var mark in marks)
            {
                var title = Encoding.UTF8.GetBytes(mark.Title);
                boxes.UInt64((ulong)mark.Start.Ticks);
                boxes.Byte(title.Length);
                boxes.Bytes(title);
            }
        }
    }
}
