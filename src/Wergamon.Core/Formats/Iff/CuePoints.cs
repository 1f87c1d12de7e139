using Wergamon.Core.Bytes;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Formats.Iff;

/// <summary>
/// Points in the sound that recorders and editors mark, read as chapters: the "cue " chunk with its labels in WAV (Multimedia Programming
/// Interface and Data Specifications 1.0), the marker chunk of AIFF (Audio Interchange File Format 1.3). The chunks themselves stay in
/// the file to the sample when its tags are written.
/// </summary>
internal static class CuePoints
{
    public static IReadOnlyList<string> OfWav(Stream stream, IReadOnlyList<ChunkPosition> chunks)
    {
        if (chunks.Find("cue ") is not { } cue || Content(stream, cue) is not { } points || chunks.Find("fmt ") is not { } format
            || Content(stream, format) is not { Length: >= 8 } shape)
            return [];
        uint rate = BitConverter.ToUInt32(shape, 4);
        var labels = LabelsOf(stream, chunks);
        var cursor = new ByteCursor(points);
        uint count = cursor.UInt32LittleEndian();
        var marks = new List<(double Seconds, string Title)>();
        for (int i = 0; i < Math.Min(count, Limits.MaxCuePoints); i++)
        {
            uint id = cursor.UInt32LittleEndian();
            cursor.Skip(16);
            uint frame = cursor.UInt32LittleEndian();
            if (cursor.IsPastEnd)
                break;
            marks.Add((frame / (double)rate, labels.GetValueOrDefault(id, "")));
        }

        return Values(marks);
    }

    public static IReadOnlyList<string> OfAiff(Stream stream, IReadOnlyList<ChunkPosition> chunks)
    {
        const int RateAt = 8;
        if (chunks.Find("MARK") is not { } mark || Content(stream, mark) is not { } points || chunks.Find("COMM") is not { } common
            || Content(stream, common) is not { Length: >= RateAt + ExtendedFloat.Length } shape)
            return [];
        double rate = ExtendedFloat.Read(shape.AsSpan(RateAt));
        var cursor = new ByteCursor(points);
        int count = cursor.UInt16BigEndian();
        var marks = new List<(double Seconds, string Title)>();
        for (int i = 0; i < Math.Min(count, Limits.MaxCuePoints); i++)
        {
            cursor.Skip(2);
            uint frame = cursor.UInt32BigEndian();
            int length = cursor.Byte();
            var title = LenientText.Read(cursor.Take(length));
            // A name has its length in front; together they are an even number of bytes.
            cursor.Skip((length & 1) == 0 ? 1 : 0);
            if (cursor.IsPastEnd)
                break;
            marks.Add((frame / rate, title));
        }

        return Values(marks);
    }

    private static Dictionary<uint, string> LabelsOf(Stream stream, IReadOnlyList<ChunkPosition> chunks)
    {
        var labels = new Dictionary<uint, string>();
        foreach (var list in chunks.Where(chunk => chunk is { Id: "LIST", IsInfo: false }))
        {
            if (Content(stream, list) is not { } content || !content.AsSpan().StartsWith("adtl"u8))
                continue;
            var texts = Chunks.ReadList(content).Where(chunk => chunk.Id == "labl" && chunk.Data.Length > 4);
            foreach (var (_, text) in texts.Take(Limits.MaxCuePoints))
                labels[BitConverter.ToUInt32(text, 0)] = LenientText.Read(text.AsSpan(4));
        }

        return labels;
    }

    private static List<string> Values(List<(double Seconds, string Title)> marks)
    {
        var values = marks.Where(mark => mark.Seconds >= 0 && mark.Seconds < TimeSpan.FromDays(1).TotalSeconds - 1)
            .OrderBy(mark => mark.Seconds)
            .Select(
                mark =>
                    new ChapterMark(
                        TimeSpan.FromMilliseconds(Math.Round(1000 * mark.Seconds)),
                        mark.Title.ReplaceLineEndings(" ").Trim()).ToString()).ToList();
        return ChapterMark.Parse(values) is null ? [] : values;
    }

    private static byte[]? Content(Stream stream, ChunkPosition chunk)
    {
        stream.Position = chunk.Offset;
        return stream.TryReadBlock(chunk.Length);
    }
}
