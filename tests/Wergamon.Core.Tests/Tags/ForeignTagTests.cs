using System.Buffers.Binary;
using System.IO.Compression;
using System.Text;
using Wergamon.Core.Bytes;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Id3v2;

namespace Wergamon.Core.Tests.Tags;

/// <summary>Tags as other programs write them, right or wrong: nothing that can be told is lost.</summary>
public sealed class ForeignTagTests
{
    private static readonly byte[] Loudness = Frame("TXXX", Latin("replaygain_track_gain\0-6.2 dB"));

    /// <summary>Identifiers of version 2.2 with a blank or a zero in version 2.3 (common practice, no source).</summary>
    [Theory]
    [InlineData(' ')]
    [InlineData('\0')]
    public void Identifiers_with_a_blank_do_not_end_the_tag(char fourth)
    {
        var tags = Read(
            Tag(
                3, Frame("TST" + fourth, Latin("Reel, Pit Pony")), Frame("XYZ" + fourth, [1, 2, 3]),
                Frame("TIT2", Latin("Pit Pony Reel")))).Tags;
        Assert.Equal(("Pit Pony Reel", "Reel, Pit Pony"), (tags.First(FieldNames.Title), tags.First(FieldNames.TitleSort)));
        Assert.Equal("XYZ", Assert.Single(tags.Opaque).Id);
        // Written again they come last, where they hide nothing from readers that stop at them.
        var again = Id3v2Writer.Write(tags);
        Assert.True(again.AsSpan().IndexOf("XYZ "u8) > again.AsSpan().IndexOf("TIT2"u8));
        Assert.Equal("XYZ", Assert.Single(Read(again).Tags.Opaque).Id);
    }

    /// <summary>ID3v2.4.0 - Main Structure, section 4, asks for synchsafe sizes; programs write plain ones all the same.</summary>
    [Theory]
    [InlineData(0x0000_0081)]
    [InlineData(0x0000_0100)]
    [InlineData(0x0000_4000)]
    [InlineData(0x0001_0203)]
    public void Plain_sizes_in_version_4_are_understood(int length)
    {
        byte[] picture = [0, .. "image/jpeg\0"u8, 3, 0, .. new byte[length - 14]];
        new Random(length).NextBytes(picture.AsSpan(14));
        foreach (bool isPlain in (bool[])[true, false])
        {
            var tag = Tag(4, Frame("APIC", picture, 4, isPlain), Frame("TIT2", Latin("Pit Pony Reel"), 4, isPlain));
            var reading = Read(tag);
            Assert.Empty(reading.Damage);
            Assert.Equal("Pit Pony Reel", reading.Tags.First(FieldNames.Title));
            Assert.Equal(picture.Length - 14, Assert.Single(reading.Tags.Pictures).Data.Length);
        }
    }

    [Fact]
    public void A_tag_with_loudness_alone_does_not_hide_the_names_in_the_old_one()
    {
        byte[] old = [.. "TAG"u8, .. Fixed("Pit Pony Reel", 30), .. Fixed("The Quarry Lamps", 30), .. new byte[65]];
        Assert.Equal(("Pit Pony Reel", "-6.2 dB"), Both([.. Tag(3, Loudness), .. new byte[100], .. old]));
        Assert.Equal(("Pit Pony Reel", "-6.2 dB"), Both([.. new byte[100], .. Ape(("replaygain_track_gain", "-6.2 dB")), .. old]));
        // Where a newer tag names the music, the old one, which cuts names off, is skipped.
        Assert.Equal(
            "Pit Pony Reel, at Full Length",
            FileReading.ReadTags(
                new MemoryStream(
                    [
                        .. Tag(3, Frame("TIT2", Latin("Pit Pony Reel, at Full Length"))), .. new byte[100], .. old
                    ])).Tags.First(FieldNames.Title));

        static (string?, string?) Both(byte[] file)
        {
            var tags = FileReading.ReadTags(new MemoryStream(file)).Tags;
            return (tags.First(FieldNames.Title), tags.First("replaygain_track_gain"));
        }
    }

    [Fact]
    public void Ape_fields_beside_id3_are_read_too()
    {
        byte[] file = [
            .. Tag(3, Frame("TIT2", Latin("Pit Pony Reel"))), .. new byte[100], .. Ape(("Title", "Another"), ("Album", "Night Shift"))
        ];
        var tags = FileReading.ReadTags(new MemoryStream(file)).Tags;
        Assert.Equal(("Pit Pony Reel", "Night Shift"), (string.Join('|', tags[FieldNames.Title]), tags.First(FieldNames.Album)));
    }

    [Fact]
    public void Id3_in_front_of_flac_fills_what_the_comments_lack()
    {
        var flac = new MemoryStream();
        var own = new TagSet();
        own.Set(FieldNames.Title, "Pit Pony Reel");
        Core.Formats.Flac.FlacTags.Write(flac, new byte[34], own);
        var tags = FileReading.ReadTags(
            new MemoryStream([.. Tag(3, Frame("TIT2", Latin("Another")), Frame("TALB", Latin("Night Shift"))), .. flac.ToArray()])).Tags;
        Assert.Equal(("Pit Pony Reel", "Night Shift"), (string.Join('|', tags[FieldNames.Title]), tags.First(FieldNames.Album)));
    }

    /// <summary>id3.org: ID3v2.3.0, section 4.2.1 (TCON); numbers from 80 on are common practice, no source.</summary>
    [Theory]
    [InlineData("(RX)", "Remix")]
    [InlineData("CR", "Cover")]
    [InlineData("(51)(39)(RX)", "Techno-Industrial;Noise;Remix")]
    [InlineData("189", "Dubstep")]
    [InlineData("(80)Village", "Village")]
    [InlineData("(999)", "(999)")]
    public void Genres_by_letters_and_in_chains_are_named(string written, string expected) =>
        Assert.Equal(expected.Split(';'), Read(Tag(3, Frame("TCON", Latin(written)))).Tags[FieldNames.Genre]);

    [Fact]
    public void Empty_tempo_is_ignored() =>
        Assert.Empty(Read(Tag(3, Frame("TBPM", [0, 0]), Frame("TIT2", Latin("Pit Pony Reel")))).Tags[FieldNames.Tempo]);

    /// <summary>id3.org: id3v2-00, section 4: frames whose successors are laid out alike become those; others keep their name.</summary>
    [Fact]
    public void Frames_of_version_2_keep_their_name()
    {
        byte[] body = [.. Old("CNT", [0, 0, 0, 9]), .. Old("POP", [.. "a@b\0"u8, 196]), .. Old("CRM", [1, 2]), .. Old("TMT", Latin("CD"))];
        var tags = Read([.. "ID3"u8, 2, 0, 0, .. Safe(body.Length), .. body]).Tags;
        Assert.Equal(["PCNT", "POPM", "CRM"], tags.Opaque.Select(field => field.Id));
        Assert.Equal("CD", tags.First("TMED"));
        var again = Read(Id3v2Writer.Write(tags)).Tags;
        Assert.Equal(["PCNT", "POPM", "CRM"], again.Opaque.Select(field => field.Id));
        Assert.Equal("CD", again.First("TMED"));

        static byte[] Old(string id, byte[] content) => [.. Encoding.ASCII.GetBytes(id), 0, 0, (byte)content.Length, .. content];
    }

    [Fact]
    public void Info_keys_keep_their_name_and_track_numbers_have_totals()
    {
        byte[] list = [.. "INFO"u8, .. "ITRK"u8, 5, 0, 0, 0, .. "3/12\0\0"u8, .. "ISBJ"u8, 6, 0, 0, 0, .. "Slate\0"u8];
        var tags = FileReading.ReadTags(
            new MemoryStream([.. "RIFF"u8, 0, 0, 0, 0, .. "WAVE"u8, .. "LIST"u8, (byte)list.Length, 0, 0, 0, .. list])).Tags;
        Assert.Equal((3, 12, "Slate"), (tags.Number(FieldNames.Track), tags.Number(FieldNames.TrackTotal), tags.First("ISBJ")));
    }

    [Fact]
    public void A_damaged_compressed_frame_loses_only_itself()
    {
        var packed = new MemoryStream();
        using (var zlib = new ZLibStream(packed, CompressionLevel.Fastest, leaveOpen: true))
            zlib.Write(Latin("Lost"));
        for (int broken = 0; broken < packed.Length; broken++)
        {
            byte[] content = [0, 0, 0, 5, .. packed.ToArray()];
            content[4 + broken] ^= 0xFF;
            var frame = Frame("TALB", content);
            frame[9] = 0x80;
            Assert.Equal("Pit Pony Reel", Read(Tag(3, frame, Frame("TIT2", Latin("Pit Pony Reel")))).Tags.First(FieldNames.Title));
        }
    }

    /// <summary>
    /// Work is counted in bytes allocated, which no other load changes: twice the tag takes twice the work, and beyond the limits no more.
    /// </summary>
    [Theory]
    [InlineData("frames")]
    [InlineData("values")]
    [InlineData("descriptions")]
    [InlineData("APE")]
    [InlineData("comments")]
    [InlineData("genres")]
    public void Work_is_linear_in_the_size_of_a_tag(string kind)
    {
        Work(kind, 10);
        long before = Work(kind, 5_000);
        for (int count = 10_000; count <= 40_000; count *= 2)
        {
            long work = Work(kind, count);
            Assert.InRange(work, 0, 2.5 * before);
            before = work;
        }
    }

    private static long Work(string kind, int count)
    {
        var file = new MemoryStream(kind switch
        {
            "frames" => Tag(3, Enumerable.Range(0, count).Select(i => Frame("TXXX", Latin($"name {i}\0value"))).ToArray()),
            "values" => Tag(3, Frame("TPE1", Latin(string.Join('\0', Enumerable.Range(0, count))))),
            "descriptions" => Tag(3, Enumerable.Range(0, count).Select(i => Frame("COMM", Latin($"eng{i}\0value"))).ToArray()),
            "APE" =>
                [
                    .. new byte[100],
                    .. Ape(
                        [
                            ("Artist", string.Join('\0', Enumerable.Range(0, count))),
                            .. Enumerable.Range(0, count).Select(i => ($"name {i}", "value"))
                        ])
                ],
            "genres" => Tag(3, Frame("TCON", Latin(string.Concat(Enumerable.Range(0, count).Select(i => $"({i % 190})"))))),
            _ => [.. Comments(count)],
        });
        long before = GC.GetAllocatedBytesForCurrentThread();
        var reading = FileReading.ReadTags(file);
        long work = GC.GetAllocatedBytesForCurrentThread() - before;
        Assert.InRange(reading.Tags.Fields.Sum(field => field.Values.Count), 1, Limits.MaxTagValues);
        if (count == 40_000 && kind != "genres")
            Assert.Contains(reading.Damage, sentence => sentence.Contains("more than", StringComparison.Ordinal));
        return work;
    }

    private static byte[] Comments(int count)
    {
        var tags = new MemoryStream();
        void Number(int value) => tags.Write(BitConverter.GetBytes(value));
        Number(0);
        Number(count);
        for (int i = 0; i < count; i++)
        {
            var comment = Encoding.UTF8.GetBytes($"NAME{i}=value");
            Number(comment.Length);
            tags.Write(comment);
        }

        byte[] streamInfo = [0, 0, 0, 34, .. new byte[34]];
        return [
            .. "fLaC"u8, .. streamInfo, 0x84, (byte)(tags.Length >> 16), (byte)(tags.Length >> 8), (byte)tags.Length, .. tags.ToArray()
        ];
    }

    private static TagReading Read(byte[] tag) => Id3v2Reader.Read(tag);

    private static byte[] Latin(string text) => [0, .. Encoding.Latin1.GetBytes(text)];

    private static byte[] Fixed(string text, int length) => [.. Encoding.Latin1.GetBytes(text), .. new byte[length - text.Length]];

    private static byte[] Frame(string id, byte[] content, int version = 3, bool isPlain = true)
    {
        byte[] size = version == 4 && !isPlain
            ? Safe(content.Length)
            : [(byte)(content.Length >> 24), (byte)(content.Length >> 16), (byte)(content.Length >> 8), (byte)content.Length];
        return [.. Encoding.Latin1.GetBytes(id), .. size, 0, 0, .. content];
    }

    private static byte[] Tag(int version, params byte[][] frames)
    {
        int length = frames.Sum(frame => frame.Length);
        return [.. "ID3"u8, (byte)version, 0, 0, .. Safe(length), .. frames.SelectMany(frame => frame)];
    }

    private static byte[] Safe(int length) =>
        [(byte)(length >> 21 & 0x7F), (byte)(length >> 14 & 0x7F), (byte)(length >> 7 & 0x7F), (byte)(length & 0x7F)];

    private static byte[] Ape(params (string Key, string Value)[] items)
    {
        var body = new MemoryStream();
        foreach (var (key, value) in items)
        {
            var bytes = Encoding.UTF8.GetBytes(value);
            body.Write(BitConverter.GetBytes(bytes.Length));
            body.Write(new byte[4]);
            body.Write(Encoding.ASCII.GetBytes(key));
            body.WriteByte(0);
            body.Write(bytes);
        }

        var footer = new byte[32];
        "APETAGEX"u8.CopyTo(footer);
        BinaryPrimitives.WriteInt32LittleEndian(footer.AsSpan(8), 2000);
        BinaryPrimitives.WriteInt32LittleEndian(footer.AsSpan(12), (int)body.Length + 32);
        BinaryPrimitives.WriteInt32LittleEndian(footer.AsSpan(16), items.Length);
        return [.. body.ToArray(), .. footer];
    }
}
