using System.Globalization;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Reading;
using Wergamon.Core.Naming;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Tests.Discs;

/// <summary>Names of discs: from text and lists to tags; reading results in words.</summary>
public sealed class DiscAlbumTests
{
    private static readonly TableOfContents Contents = new(
        [new DiscTrack(1, true, 1000) { Isrc = "ZZLQ12100001" }, new DiscTrack(2, true, 21_000), new DiscTrack(3, true, 41_000)], 60_000)
    {
        CatalogueNumber = "6291041500213",
    };

    [Theory]
    [InlineData("One\nTwo\nThree", "One|Two|Three")]
    [InlineData("1. One\r\n2. Two\r\n", "One|Two")]
    [InlineData("01 - One 3:12\n\n  02 - Two (4:01)\n03) Three [10:00]", "One|Two|Three")]
    [InlineData("99 Tallies\n7 Gates: The Sequel", "99 Tallies|7 Gates: The Sequel")]
    [InlineData("1.\tWickwire\tOne", "Wickwire>One")]
    [InlineData("   \n", "")]
    public void Lists_are_read_with_and_without_numbers_and_lengths(string list, string expected) =>
        Assert.Equal(
            expected,
            string.Join('|', TitleList.Read(list).Select(title => title.Artist is null ? title.Title : title.Artist + ">" + title.Title)));

    [Fact]
    public void Titles_of_a_list_leave_the_hidden_track_alone()
    {
        var album = DiscAlbum.Empty(Contents).WithTitles(TitleList.Read("One\nTwo\nThree\nFour"));
        Assert.Equal(
            [(0, DiscAlbum.HiddenTitle), (1, "One"), (2, "Two"), (3, "Three")], album.Tracks.Select(track => (track.Number, track.Title)));
        Assert.Equal("", DiscAlbum.Empty(Contents).WithTitles(TitleList.Read("One")).Tracks[2].Title);
    }

    [Fact]
    public void Disc_text_names_the_album_and_only_artists_that_differ()
    {
        var text = new DiscText(
            new DiscTextEntry { Title = "Songs", Performer = "Tin Orchard" },
            new Dictionary<int, DiscTextEntry>
            {
                [1] = new() { Title = "One", Performer = "Tin Orchard" },
                [3] = new() { Title = "Three", Performer = "Wickwire" }
            });
        var album = DiscAlbum.From(text, Contents)!;
        Assert.Equal(("Songs", "Tin Orchard", true), (album.Title, album.Artist, album.IsCompilation));
        Assert.Equal([null, null, null, "Wickwire"], album.Tracks.Select(track => track.Artist));
        Assert.Null(DiscAlbum.From(new DiscText(new DiscTextEntry(), new Dictionary<int, DiscTextEntry>()), Contents));
    }

    [Fact]
    public void Tags_and_names_follow_from_the_album()
    {
        var album = new DiscAlbum
        {
            Artist = "Tin Orchard",
            Title = "Songs",
            Year = 2019,
            Disc = 2,
            DiscTotal = 3,
            Tracks = [new DiscTitle(1, "One"), new DiscTitle(2, "Two", "Wickwire"), new DiscTitle(3, "")]
        };
        var tags = album.TagsOf(1, Contents);
        Assert.Equal(
            ("One", "Tin Orchard", "Songs", "1", "3", "2", "3", "2019", "ZZLQ12100001", "1", "6291041500213"),
            (tags.First(FieldNames.Title), tags.First(FieldNames.AlbumArtist), tags.First(FieldNames.Album),
                tags.First(FieldNames.Track), tags.First(FieldNames.TrackTotal), tags.First(FieldNames.Disc),
                tags.First(FieldNames.DiscTotal), tags.First(FieldNames.Year), tags.First(FieldNames.Isrc),
                tags.First(FieldNames.Compilation), tags.First("barcode")));
        Assert.Equal("Tin Orchard/Songs/2-01 One.flac", TrackPath.For(tags, ".flac"));
        Assert.Equal(
            ("Track 3", "Wickwire"),
            (album.TagsOf(3, Contents).First(FieldNames.Title), album.TagsOf(2, Contents).First(FieldNames.Artist)));
        Assert.Equal(
            "00 Hidden track.flac", TrackPath.For((album with { DiscTotal = 1, Disc = 1 }).TagsOf(0, Contents), ".flac").Split('/')[^1]);
        var unnamed = DiscAlbum.Empty(Contents).TagsOf(2, Contents);
        Assert.Equal(
            ($"Disc {DiscId.Checksum(Contents)}", "Unknown artist", "Track 2"),
            (unnamed.First(FieldNames.Album), unnamed.First(FieldNames.AlbumArtist), unnamed.First(FieldNames.Title)));
        Assert.Empty(unnamed[FieldNames.Compilation]);
    }

    [Fact]
    public void Verdicts_give_their_reasons()
    {
        var span = new TrackSpan(1, 1000, 21_000);
        var proved = new TrackReading(1, span, 0x9A4107CE, Verdict.AgreedAtOnce) { SectorsRead = 41_000 };
        var again = proved with { Verdict = Verdict.AgreedAfterReReads, ReReads = [new ReRead(new FrameStretch(44_100 * 67, 20), 9)] };
        var doubtful = proved with
        {
            Verdict = Verdict.Doubtful,
            Doubtful = [new FrameStretch(44_100 * 45, 882)],
            ReReads = [new ReRead(new FrameStretch(44_100 * 45, 882), 30)]
        };
        var quick = proved with { Verdict = Verdict.ReadOnce, Reported = [new FrameStretch(0, 588), new FrameStretch(588, 588)] };
        Assert.Equal(("Proved", "read twice alike"), (ReadingReport.Word(proved), ReadingReport.Why(proved)));
        Assert.Equal(("Proved", "after 9 re-reads at 1:07.00"), (ReadingReport.Word(again), ReadingReport.Why(again)));
        Assert.Equal(
            ("Doubtful", "no two readings agree from 0:45.00 to 0:45.02, after 30 re-reads at 0:45.00"),
            (ReadingReport.Word(doubtful), ReadingReport.Why(doubtful)));
        Assert.Equal(
            ("Read once", "not proved, the drive reported errors at 0:00.00, at 0:00.01"),
            (ReadingReport.Word(quick), ReadingReport.Why(quick)));
        Assert.Equal("Differs", ReadingReport.Word(proved with { SecondCrc32 = 1 }));
        Assert.Contains("a second reading gave 00000001", ReadingReport.Why(proved with { SecondCrc32 = 1 }), StringComparison.Ordinal);
        Assert.Contains(
            "48 samples at the end of the disc filled with silence", ReadingReport.Why(proved with { FilledFrames = 48 }),
            StringComparison.Ordinal);
        OtherReadings[] others = [new(1, 0x9A4107CE, 7), new(1, 5, 2), new(2, 0x9A4107CE, 100)];
        Assert.Equal("7 of 9 others got the same", ReadingReport.Others(proved, others));
        Assert.Equal("9 others got another sum", ReadingReport.Others(proved with { Crc32 = 1 }, others));
        Assert.Null(ReadingReport.Others(proved with { Number = 3 }, others));

        var report = ReadingReport.Write(
            new DiscAlbum { Artist = "Tin Orchard", Title = "Songs", Tracks = [new DiscTitle(1, "One")] }, Contents,
            new DriveTraits("Drive A") { ReadOffset = 48 }, new ReadingSettings(), [proved, doubtful], others, true,
            DateTimeOffset.Parse("2026-11-24T20:00:00Z", CultureInfo.InvariantCulture));
        foreach (var line in new[]
        {
            "Tin Orchard: Songs", "offset +48 samples", DiscId.Sha1(Contents), DiscId.Checksum(Contents), "6291041500213",
            "9A4107CE  Proved: read twice alike", "7 of 9 others got the same",
            "1 of 2 tracks proved. 82,000 sectors were read for 40,000 on the disc."
        })
            Assert.Contains(line, report, StringComparison.Ordinal);
    }
}
