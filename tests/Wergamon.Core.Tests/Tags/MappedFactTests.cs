using System.Buffers.Binary;
using System.Text;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Id3v2;

namespace Wergamon.Core.Tests.Tags;

/// <summary>
/// Ratings, timed lyrics, chapters and cue points: fields for every dialect, while what only their own frame says is kept.
/// </summary>
public sealed class MappedFactTests
{
    /// <summary>Thresholds between the bytes are common practice, no source.</summary>
    [Theory]
    [InlineData(1, "1")]
    [InlineData(63, "2")]
    [InlineData(128, "3")]
    [InlineData(186, "4")]
    [InlineData(255, "5")]
    public void Rating_is_read_and_its_frame_is_kept(byte level, string rating)
    {
        byte[] frame = [.. "keeper@lantern.example\0"u8, level, 0, 0, 0, 7];
        var tags = Read(Frame("POPM", frame));
        Assert.Equal([rating], tags[FieldNames.Rating]);
        tags.Set(FieldNames.Title, "Dripstone");
        Assert.Equal(frame, Assert.Single(Again(tags).Opaque).Data.ToArray());

        tags.Set(FieldNames.Rating, "1");
        var lower = Again(tags);
        Assert.Equal(["1"], lower[FieldNames.Rating]);
        Assert.Equal(
            [.. "keeper@lantern.example\0"u8, level == 1 ? level : (byte)1, 0, 0, 0, 7], Assert.Single(lower.Opaque).Data.ToArray());

        tags.Set(FieldNames.Rating);
        var none = Again(tags);
        Assert.Empty(none[FieldNames.Rating]);
        Assert.Equal([.. "keeper@lantern.example\0"u8, 0, 0, 0, 0, 7], Assert.Single(none.Opaque).Data.ToArray());
    }

    /// <summary>Two facts under one name: the frame and a user-defined field stay apart.</summary>
    [Fact]
    public void A_second_rating_of_another_scale_stays()
    {
        var tags = Read(Frame("POPM", [0, 128]), Frame("TXXX", [0, .. "RATING\080"u8]));
        Assert.Equal(["3", "80"], tags[FieldNames.Rating]);
        Assert.Equal(["3", "80"], Again(tags)[FieldNames.Rating]);
    }

    [Theory]
    [InlineData("4", 4)]
    [InlineData("80", 4)]
    [InlineData("100", 5)]
    [InlineData("3.5", 4)]
    [InlineData("0", null)]
    [InlineData("101", null)]
    [InlineData("good", null)]
    public void Ratings_of_other_scales_are_understood(string text, int? rating) => Assert.Equal(rating, Rating.Of(text));

    [Fact]
    public void Words_with_times_of_their_own_become_lines_and_stay_words()
    {
        byte[] frame = [0, .. "deu"u8, 2, 1, 0, .. Timed("Lamps", 500), .. Timed(" out", 900), .. Timed("\nand up", 62_345)];
        var tags = Read(Frame("SYLT", frame));
        Assert.Equal(["[00:00.50]Lamps out\n[01:02.345]and up"], tags[FieldNames.TimedLyrics]);
        Assert.Equal(frame, Assert.Single(Again(tags).Opaque).Data.ToArray());
        tags.Set(FieldNames.TimedLyrics, "[00:01.00]Lamps on");
        var changed = Again(tags);
        Assert.Equal(["[00:01.00]Lamps on"], changed[FieldNames.TimedLyrics]);
        Assert.Empty(changed.Opaque);
    }

    [Theory]
    [InlineData("[0:05] Lamps out\n\n[1:02.3]  and up", "[00:05.00]Lamps out\n[01:02.30]and up")]
    [InlineData("[00:05:25]Lamps out", "[00:05.25]Lamps out")]
    [InlineData("[00:05.251] Lamps out\nand up", null)]
    [InlineData("Lamps out", null)]
    [InlineData("", null)]
    public void Times_as_people_type_them_are_understood(string typed, string? expected) =>
        Assert.Equal(expected, TimedLine.ParseTyped(typed) is { } lines ? TimedLine.Format(lines) : null);

    [Fact]
    public void Chapters_with_ends_and_pictures_stay_until_they_are_changed()
    {
        byte[] chapter = [
            .. "c1\0"u8, .. Big(500), .. Big(60_000), .. Big(uint.MaxValue), .. Big(uint.MaxValue),
            .. Frame("TIT2", [0, .. "First Gate"u8]), .. Frame("APIC", [0, .. "image/png\0"u8, 3, 0, 1, 2, 3])
        ];
        byte[] contents = [.. "toc\0"u8, 3, 1, .. "c1\0"u8];
        var tags = Read(Frame("CTOC", contents), Frame("CHAP", chapter));
        Assert.Equal(["00:00:00.500 First Gate"], tags[FieldNames.Chapters]);
        Assert.Equal([contents, chapter], Again(tags).Opaque.Select(frame => frame.Data.ToArray()));
        // Other dialects can hold all of it but the picture; a plan does not count the frames beside the field.
        Assert.Equal(1, TagContents.Of(tags).Count);

        tags.Set(FieldNames.Chapters, "00:00:00.500 First Gate", "00:01:00.000 Second Gate");
        var changed = Again(tags);
        Assert.Equal(["00:00:00.500 First Gate", "00:01:00.000 Second Gate"], changed[FieldNames.Chapters]);
        Assert.Empty(changed.Opaque);
    }

    [Theory]
    [InlineData("CHAPTER001", "00:00:01.000", "CHAPTER002NAME", "No time")]
    [InlineData("CHAPTER001", "1 s", "CHAPTER001NAME", "Odd time")]
    [InlineData("CHAPTER001URL", "http://lantern.example/", "CHAPTER01", "00:00:01.000")]
    public void Comments_that_are_not_chapters_are_kept(string key, string text, string otherKey, string otherText)
    {
        var block = new List<byte>([0, 0, 0, 0, 2, 0, 0, 0]);
        foreach (var comment in (string[])[$"{key}={text}", $"{otherKey}={otherText}"])
            block.AddRange([.. BitConverter.GetBytes(comment.Length), .. Encoding.UTF8.GetBytes(comment)]);
        var tags = new TagSet();
        Core.Tags.VorbisComment.VorbisCommentBlock.Read(block.ToArray(), tags, []);
        Assert.Equal(
            new[] { (key, text), (otherKey, otherText) }.Order(), tags.Fields.Select(field => (field.Name, field.Values[0])).Order());
    }

    [Fact]
    public void Cue_points_of_wav_are_chapters()
    {
        byte[] format = [1, 0, 1, 0, .. Little(44_100), .. Little(88_200), 2, 0, 16, 0];
        byte[] cue = [
            .. Little(2), .. Little(7), .. Little(0), .. "data"u8, .. Little(0), .. Little(0), .. Little(88_200), .. Little(9),
            .. Little(0), .. "data"u8, .. Little(0), .. Little(0), .. Little(22_050)
        ];
        byte[] labels = [.. "adtl"u8, .. RiffChunk("labl", [.. Little(7), .. "Second Gate\0"u8])];
        byte[] body = [
            .. "WAVE"u8, .. RiffChunk("fmt ", format), .. RiffChunk("data", new byte[400]), .. RiffChunk("cue ", cue),
            .. RiffChunk("LIST", labels)
        ];
        var file = new MemoryStream([.. "RIFF"u8, .. Little((uint)body.Length), .. body]);
        var tags = FileReading.ReadTags(file).Tags;
        Assert.Equal(["00:00:00.500", "00:00:02.000 Second Gate"], tags[FieldNames.Chapters]);
        // The chunk stays to the sample when tags are written.
        tags.Set(FieldNames.Title, "Dripstone");
        var edited = new MemoryStream();
        ((TaggedFormat)FileFormats.Of(file)!).RewriteTags(file, edited, tags);
        Assert.True(edited.ToArray().AsSpan().IndexOf(cue) > 0);
        Assert.Equal(["00:00:00.500", "00:00:02.000 Second Gate"], FileReading.ReadTags(edited).Tags[FieldNames.Chapters]);
    }

    [Fact]
    public void Markers_of_aiff_are_chapters()
    {
        byte[] common = [0, 1, .. Big(100), 0, 16, 0x40, 0x0E, 0xAC, 0x44, 0, 0, 0, 0, 0, 0];
        byte[] marks = [0, 2, 0, 1, .. Big(22_050), 4, .. "Adit"u8, 0, 0, 2, .. Big(88_200), 3, .. "Pit"u8];
        byte[] body = [.. "AIFF"u8, .. IffChunk("COMM", common), .. IffChunk("MARK", marks), .. IffChunk("SSND", new byte[208])];
        using var file = new MemoryStream([.. "FORM"u8, .. Big((uint)body.Length), .. body]);
        Assert.Equal(["00:00:00.500 Adit", "00:00:02.000 Pit"], FileReading.ReadTags(file).Tags[FieldNames.Chapters]);
    }

    private static TagSet Again(TagSet tags)
    {
        var reading = Id3v2Reader.Read(Id3v2Writer.Write(tags));
        Assert.Empty(reading.Damage);
        return reading.Tags;
    }

    private static TagSet Read(params byte[][] frames)
    {
        byte[] body = [.. frames.SelectMany(frame => frame)];
        return Id3v2Reader.Read((byte[])[.. "ID3"u8, 3, 0, 0, 0, 0, (byte)(body.Length >> 7), (byte)(body.Length & 0x7F), .. body]).Tags;
    }

    private static byte[] Frame(string id, byte[] content) =>
        [.. Encoding.ASCII.GetBytes(id), .. Big((uint)content.Length), 0, 0, .. content];

    private static byte[] Timed(string words, uint milliseconds) => [.. Encoding.Latin1.GetBytes(words), 0, .. Big(milliseconds)];

    private static byte[] RiffChunk(string id, byte[] content) =>
        [.. Encoding.ASCII.GetBytes(id), .. Little((uint)content.Length), .. content, .. new byte[content.Length & 1]];

    private static byte[] IffChunk(string id, byte[] content) =>
        [.. Encoding.ASCII.GetBytes(id), .. Big((uint)content.Length), .. content, .. new byte[content.Length & 1]];

    private static byte[] Little(uint value) => BitConverter.GetBytes(value);

    private static byte[] Big(uint value)
    {
        var bytes = new byte[4];
        BinaryPrimitives.WriteUInt32BigEndian(bytes, value);
        return bytes;
    }
}
