using System.Text;
using CsCheck;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Id3v2;
using Wergamon.Testing;

namespace Wergamon.Core.Tests.Tags;

/// <summary>Round trips of tags. The worker's tests compare them with python3-mutagen.</summary>
public sealed class DialectTests
{
    private static readonly Gen<Id3v2WriteOptions> Id3Options = Gen.Select(
        Gen.OneOfConst(3, 4), Gen.OneOfConst<Id3v2Encoding?>(null, Id3v2Encoding.Utf16WithMark), Gen.Bool, Gen.Int[0, 50],
        (version, encoding, unsynchronise, padding) => new Id3v2WriteOptions(version, encoding, unsynchronise, padding));

    [Fact]
    public void Id3v2_survives_a_round_trip() => Gen.Select(RandomTags.Sets, Id3Options).Sample((tags, options) =>
    {
        var reading = Id3v2Reader.Read(Id3v2Writer.Write(tags, options));
        Assert.Empty(reading.Damage);
        Assert.Equal(RandomTags.Lines(Id3v2Dialect.Instance.Select(tags)), RandomTags.Lines(reading.Tags));
        Assert.Equal(Id3v2Writer.Write(tags).Length, Id3v2Dialect.Instance.LengthOf(TagContents.Of(tags)));
    }, iter: 2000);

    [Fact]
    public void Flac_survives_a_round_trip() => RandomTags.Sets.Sample(tags =>
    {
        var stream = new MemoryStream();
        FlacTags.Write(stream, new byte[34], tags);
        Assert.Equal(FlacDialect.Instance.LengthOf(TagContents.Of(tags)), stream.Length);
        var head = FlacTags.Read(stream, 0);
        Assert.Empty(head.Damage);
        Assert.Equal(stream.Length, head.AudioOffset);
        Assert.Equal(RandomTags.Lines(tags), RandomTags.Lines(head.Tags));
    }, iter: 2000);

    [Theory]
    [InlineData(Id3v2Encoding.Latin1, "Blue Slate Räin")]
    [InlineData(Id3v2Encoding.Utf16WithMark, "фонарь")]
    [InlineData(Id3v2Encoding.Utf16BigEndian, "фонарь")]
    [InlineData(Id3v2Encoding.Utf8, "灯火")]
    public void All_four_encodings_are_written_and_read(Id3v2Encoding encoding, string title)
    {
        var tags = new TagSet();
        tags.Set(FieldNames.Title, title);
        tags.Set(FieldNames.Comment, title);
        var bytes = Id3v2Writer.Write(tags, new Id3v2WriteOptions(4, encoding));
        Assert.Equal((byte)encoding, bytes[20]);
        Assert.Equal(RandomTags.Lines(tags), RandomTags.Lines(Id3v2Reader.Read(bytes).Tags));
    }

    /// <summary>ID3v2.4.0 - Main Structure, section 6.1: no false synchronisation in the tag.</summary>
    [Fact]
    public void Unsynchronised_bytes_never_look_like_a_frame() => Gen.OneOf(
        Gen.Byte, Gen.OneOfConst((byte)0xFF, (byte)0xE0, (byte)0)).Array[0, 200].Sample(data =>
    {
        var safe = Unsynchronisation.Apply(data);
        for (int i = 0; i + 1 < safe.Length; i++)
            Assert.False(safe[i] == 0xFF && safe[i + 1] >= 0xE0);
        Assert.Equal(data, Unsynchronisation.Undo(safe));
    });

    /// <summary>id3.org: ID3v2.3.0, section 4.2.1 (TCON).</summary>
    [Theory]
    [InlineData("(17)", "Rock")]
    [InlineData("(4)(35)", "Disco;House")]
    [InlineData("(4)Eurodisco", "Eurodisco")]
    [InlineData("((Foo)", "(Foo)")]
    [InlineData("17", "Rock")]
    [InlineData("Dance band", "Dance band")]
    public void Genres_by_number_are_named(string written, string expected)
    {
        byte[] content = [0, .. Encoding.Latin1.GetBytes(written)];
        byte[] frame = [.. "TCON"u8, 0, 0, 0, (byte)content.Length, 0, 0, .. content];
        var reading = Id3v2Reader.Read((byte[])[.. "ID3"u8, 3, 0, 0, 0, 0, 0, (byte)frame.Length, .. frame]);
        Assert.Equal(expected.Split(';'), reading.Tags[FieldNames.Genre]);
    }

    [Fact]
    public void Version_two_with_three_letter_frames_is_read()
    {
        byte[] title = [.. "TT2"u8, 0, 0, 5, 0, .. "Reel"u8];
        byte[] number = [.. "TRK"u8, 0, 0, 4, 0, .. "5/6"u8];
        var reading = Id3v2Reader.Read((byte[])[.. "ID3"u8, 2, 0, 0, 0, 0, 0, (byte)(title.Length + number.Length), .. title, .. number]);
        Assert.Equal("Reel", reading.Tags.First(FieldNames.Title));
        Assert.Equal((5, 6), (reading.Tags.Number(FieldNames.Track), reading.Tags.Number(FieldNames.TrackTotal)));
    }

    /// <summary>id3.org: ID3v1.1; the track number is in the last two bytes of the comment.</summary>
    [Fact]
    public void The_old_tag_at_the_end_is_read_where_there_is_no_other()
    {
        var bytes = new byte[500];
        "TAG"u8.CopyTo(bytes.AsSpan(372));
        "Pit Pony Reel"u8.CopyTo(bytes.AsSpan(375));
        "The Quarry Lamps"u8.CopyTo(bytes.AsSpan(405));
        "2021"u8.CopyTo(bytes.AsSpan(465));
        bytes[498] = 5;
        bytes[499] = 17;
        var tags = FileReading.ReadTags(new MemoryStream(bytes)).Tags;
        Assert.Equal(("Pit Pony Reel", "The Quarry Lamps", "2021", 5, "Rock"),
            (tags.First(FieldNames.Title), tags.First(FieldNames.Artist), tags.First(FieldNames.Year), tags.Number(FieldNames.Track),
                tags.First(FieldNames.Genre)));
    }

    /// <summary>
    /// Multimedia Programming Interface and Data Specifications 1.0: INFO list, here with text of odd length in Latin-1 and in UTF-8.
    /// </summary>
    [Fact]
    public void The_info_list_of_wav_is_read_where_there_is_no_other()
    {
        byte[] list = [
            .. "INFO"u8, .. "INAM"u8, 5, 0, 0, 0, .. "Räin"u8, 0, .. "IART"u8, 4, 0, 0, 0, (byte)'B', 0xE4, (byte)'r', 0, .. "ITRK"u8, 2, 0,
            0, 0, (byte)'7', 0
        ];
        var tags = FileReading.ReadTags(
            new MemoryStream([.. "RIFF"u8, 0, 0, 0, 0, .. "WAVE"u8, .. "LIST"u8, (byte)list.Length, 0, 0, 0, .. list])).Tags;
        Assert.Equal(("Rä", "Bär"), (tags.First(FieldNames.Title)?[..2], tags.First(FieldNames.Artist)));
    }

    /// <summary>Audio Interchange File Format 1.3: text chunks.</summary>
    [Fact]
    public void The_text_chunks_of_aiff_are_read_where_there_is_no_other()
    {
        var tags = FileReading.ReadTags(
            new MemoryStream(
                [
                    .. "FORM"u8, 0, 0, 0, 0, .. "AIFF"u8, .. "NAME"u8, 0, 0, 0, 5, .. "Adit "u8, 0, .. "AUTH"u8, 0, 0, 0, 4, .. "Nine"u8
                ])).Tags;
        Assert.Equal(("Adit", "Nine"), (tags.First(FieldNames.Title), tags.First(FieldNames.Artist)));
    }

    /// <summary>Sizes are in the headers: ISO/IEC 15948 (PNG, IHDR) and ITU-T T.81 (JPEG, SOF0 after another segment).</summary>
    [Fact]
    public void The_size_of_a_picture_is_read_from_its_header()
    {
        byte[] png = [0x89, .. "PNG\r\n"u8, 0x1A, 0x0A, 0, 0, 0, 13, .. "IHDR"u8, 0, 0, 2, 0x58, 0, 0, 1, 0x2C];
        byte[] jpeg = [0xFF, 0xD8, 0xFF, 0xE0, 0, 4, 1, 2, 0xFF, 0xC0, 0, 17, 8, 0x01, 0x2C, 0x02, 0x58, 3];
        Assert.Equal(new PictureSize(600, 300), PictureSize.Of(png));
        Assert.Equal(new PictureSize(600, 300), PictureSize.Of(jpeg));
        Assert.Null(PictureSize.Of("GIF89a no size here"u8));
        Gen.Byte.Array[0, 60].Sample(bytes => PictureSize.Of([0xFF, 0xD8, .. bytes]) is null or { Width: >= 0 });
    }

    [Fact]
    public void Unknown_frames_are_kept()
    {
        var tags = new TagSet();
        tags.Opaque.Add(new OpaqueField("ID3v2", "PRIV", "owner\0\u0001\u0002"u8.ToArray()));
        tags.Opaque.Add(new OpaqueField("FLAC", "2", "appdata"u8.ToArray()));
        var id3 = Id3v2Reader.Read(Id3v2Writer.Write(tags)).Tags;
        Assert.Equal("owner\0\u0001\u0002"u8.ToArray(), Assert.Single(id3.Opaque).Data.ToArray());
        var stream = new MemoryStream();
        FlacTags.Write(stream, new byte[34], tags);
        Assert.Equal("appdata"u8.ToArray(), Assert.Single(FlacTags.Read(stream, 0).Tags.Opaque).Data.ToArray());
    }

    [Fact]
    public void Mutated_tags_are_read_in_part()
    {
        var tags = new TagSet();
        tags.Set(FieldNames.Title, "Slatebreaker");
        tags.Set(FieldNames.Comment, "фонарь");
        tags.Pictures.Add(new Picture(PictureKind.Front, "image/png", "x", new byte[40]));
        var id3 = Id3v2Writer.Write(tags, new Id3v2WriteOptions(Padding: 8));
        var flac = new MemoryStream();
        FlacTags.Write(flac, new byte[34], tags);
        Gen.Select(Gen.Bool, Gen.Select(Gen.Int[0, 120], Gen.Byte).Array[1, 6], Gen.Int[0, 200]).Sample((asId3, changes, cut) =>
        {
            var bytes = asId3 ? (byte[])id3.Clone() : flac.ToArray();
            foreach (var (at, value) in changes)
                bytes[at] = value;
            bytes = bytes[..^Math.Min(cut, bytes.Length)];
            var reading = FileReading.ReadTags(new MemoryStream(bytes));
            Assert.True(reading.Tags.Pictures.Sum(picture => picture.Data.Length) <= bytes.Length);
        }, iter: 5000);
    }
}
