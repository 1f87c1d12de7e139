using CsCheck;
using Wergamon.Core.Discs;
using Wergamon.Testing.Outside;

namespace Wergamon.Core.Tests.Discs;

/// <summary>The numbers of the disc: positions, checksums, IDs and codes.</summary>
public sealed class DiscNumberTests
{
    private static readonly Gen<TableOfContents> Tables =
        from lengths in Gen.Int[AudioDisc.MinTrackSectors, 4000].Array[1, 99]
        from first in Gen.Int[0, 2000]
        select Table(first, lengths);

    [Fact]
    public void Both_disc_ids_are_those_of_libdiscid() => Tables.Sample(
        toc =>
        {
            var outside = LibDiscId.Of([.. toc.Tracks.Select(track => track.Start + 150)], toc.LeadOut + 150);
            return outside == (DiscId.Sha1(toc), DiscId.Checksum(toc));
        },
        iter: 10_000);

    /// <summary>IEC 60908: 75 sectors a second, 588 samples and 2,352 bytes a sector, 1,411.2 kbit/s.</summary>
    [Fact]
    public void The_numbers_of_the_audio_disc_agree_with_one_another()
    {
        Assert.Equal(44_100, AudioDisc.SectorsPerSecond * AudioDisc.FramesPerSector);
        Assert.Equal(AudioDisc.BytesPerSector, AudioDisc.FramesPerSector * 2 * 16 / 8);
        Assert.Equal(1_411_200, AudioDisc.SectorsPerSecond * AudioDisc.BytesPerSector * 8);
        Assert.Equal(AudioDisc.LeadInPauseSectors, new Msf(0, 2, 0).Sectors);
        Assert.Equal(AudioDisc.MinTrackSectors, new Msf(0, 4, 0).Sectors);
        Assert.Equal(359_849, new Msf(79, 57, 74).Sectors);
    }

    [Fact]
    public void Time_codes_survive_a_round_trip() =>
        Gen.Int[0, 9999 * 60 * 75].Sample(sectors => Msf.TryParse(new Msf(sectors).ToString()) == new Msf(sectors));

    [Theory]
    [InlineData("")]
    [InlineData("1:2")]
    [InlineData("00:60:00")]
    [InlineData("00:00:75")]
    [InlineData("-1:00:00")]
    [InlineData("00:00:00:00")]
    [InlineData("a:00:00")]
    public void Invalid_time_codes_are_refused(string text) => Assert.Null(Msf.TryParse(text));

    /// <summary>
    /// ITU-T polynomial 1021, start 0, not inverted, gives 31C3 for "123456789" (common catalogues of sums; from memory); disc text inverts
    /// it.
    /// </summary>
    [Fact]
    public void Crc_16_gives_the_check_value() => Assert.Equal(unchecked((ushort)~0x31C3), Crc16.Of("123456789"u8));

    /// <summary>GS1 General Specifications, 7.9: the worked example 629104150021 has the check digit 3.</summary>
    [Theory]
    [InlineData("6291041500213", true)]
    [InlineData("6291041500214", false)]
    [InlineData("629104150021", false)]
    [InlineData("62910415002a3", false)]
    public void Catalogue_numbers_have_a_check_digit(string number, bool isOne) => Assert.Equal(isOne, DiscCodes.IsCatalogueNumber(number));

    [Theory]
    [InlineData("zz-lq1-21-00042", "ZZLQ12100042")]
    [InlineData("ZZLQ12100042", "ZZLQ12100042")]
    [InlineData("ZZLQ1210004", null)]
    [InlineData("1ZLQ12100042", null)]
    public void Recording_codes_are_accepted_with_and_without_dashes(string text, string? expected) =>
        Assert.Equal(expected, DiscCodes.NormaliseIsrc(text));

    [Fact]
    public void An_impossible_table_is_reported()
    {
        Assert.Null(Table(0, [300, 300]).Complaint());
        Assert.NotNull(new TableOfContents([], 10).Complaint());
        Assert.NotNull(new TableOfContents([new DiscTrack(1, true, 0)], 0).Complaint());
        Assert.NotNull(new TableOfContents([new DiscTrack(1, true, 0), new DiscTrack(3, true, 400)], 800).Complaint());
        Assert.NotNull(new TableOfContents([new DiscTrack(1, true, 500), new DiscTrack(2, true, 400)], 800).Complaint());
    }

    /// <summary>A second session starts 11,400 sectors after the end of the audio; players and IDs leave both out.</summary>
    [Fact]
    public void Spans_cover_all_audio_and_nothing_else()
    {
        var toc = new TableOfContents(
            [
                new DiscTrack(1, true, 1200), new DiscTrack(2, true, 9150) { PauseStart = 9000 },
                new DiscTrack(3, false, 40_000) { Session = 2 }
            ],
            50_000);
        Assert.Equal(28_600, toc.AudioEnd);
        Assert.Equal(
            [new TrackSpan(0, 0, 1200), new TrackSpan(1, 1200, 9150), new TrackSpan(2, 9150, 28_600)],
            TrackSpan.Of(toc, Pauses.WithTrackBefore));
        Assert.Equal(
            [new TrackSpan(0, 0, 1200), new TrackSpan(1, 1200, 9000), new TrackSpan(2, 9150, 28_600)], TrackSpan.Of(toc, Pauses.LeftOut));
    }

    private static TableOfContents Table(int first, int[] lengths)
    {
        var tracks = new List<DiscTrack>();
        int at = first;
        foreach (int length in lengths)
        {
            tracks.Add(new DiscTrack(tracks.Count + 1, true, at));
            at += length;
        }

        return new TableOfContents(tracks, at);
    }
}
