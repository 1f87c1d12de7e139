using System.Globalization;
using CsCheck;
using Wergamon.Core.Discs;
using Wergamon.Testing.Outside;

namespace Wergamon.Core.Tests.Discs;

/// <summary>
/// Discs with data in a second session, described as is usual: REM SESSION in front of the data file, and the gap between the sessions in
/// no file.
/// </summary>
public sealed class SessionsTests
{
    private static readonly Gen<int[]> Lengths = Gen.Int[300, 2000].Array[2, 12];

    /// <summary>
    /// ECMA-394: 11,400 sectors between the sessions. The ID is that of libdiscid 0.6 for the table of the first session.
    /// </summary>
    [Fact]
    public void The_last_track_keeps_its_length_and_the_id_is_that_of_the_first_session() => Lengths.Sample(lengths =>
    {
        var contents = Open(SheetOf(lengths), lengths).Contents;
        Assert.Null(contents.Complaint());
        int audio = lengths[..^1].Sum();
        Assert.Equal(lengths[..^1], contents.AudioTracks.Select(contents.LengthOf));
        Assert.Equal((audio, audio + Sessions.GapSectors), (contents.AudioEnd, contents.Tracks[^1].Start));
        Assert.All(contents.AudioTracks, track => Assert.Equal(1, track.Session));
        Assert.Equal((2, audio + Sessions.GapSectors + lengths[^1]), (contents.Tracks[^1].Session, contents.LeadOut));
        var starts = contents.AudioTracks.Select(track => track.Start + AudioDisc.LeadInPauseSectors).ToList();
        Assert.Equal(LibDiscId.Of(starts, audio + AudioDisc.LeadInPauseSectors).Sha1, DiscId.Sha1(contents));
    }, iter: 100);

    [Fact]
    public void Sessions_survive_a_round_trip() => Lengths.Sample(lengths =>
    {
        var sheet = CueSheetReader.Read(SheetOf(lengths)).Sheet;
        Assert.Equal([.. lengths[..^1].Select(_ => 1), 2], sheet.Tracks.Select(track => track.Session));
        Assert.Equal(
            sheet.Tracks.Select(track => track.Session),
            CueSheetReader.Read(CueSheetWriter.Write(sheet)).Sheet.Tracks.Select(track => track.Session));
    }, iter: 50);

    [Fact]
    public void A_gap_stated_in_the_sheet_is_not_added_again()
    {
        int[] lengths = [600, 700, 500];
        var stated = SheetOf(lengths).Replace("MODE1/2352\n", "MODE1/2352\n    PREGAP 02:32:00\n", StringComparison.Ordinal);
        Assert.Equal(1300 + Sessions.GapSectors, Open(stated, lengths).Contents.Tracks[^1].Start);
    }

    /// <summary>A session that starts within the audio before it would make a track of negative length.</summary>
    [Fact]
    public void A_session_that_starts_too_early_is_refused()
    {
        var contents = new TableOfContents(
            [new DiscTrack(1, true, 0), new DiscTrack(2, true, 9000), new DiscTrack(3, false, 20_000) { Session = 2 }], 30_000);
        Assert.Contains("Track 2 has no length", contents.Complaint(), StringComparison.Ordinal);
    }

    private static DiscImage Open(string sheet, int[] lengths) =>
        DiscImage.Open(
            CueSheetReader.Read(sheet).Sheet,
            name =>
                new MemoryStream(
                    new byte[lengths[int.Parse(name.AsSpan(0, 2), CultureInfo.InvariantCulture) - 1] * AudioDisc.BytesPerSector],
                    writable: false));

    /// <summary>One file for each track, the last one data.</summary>
    private static string SheetOf(int[] lengths) => string.Concat(lengths.Select((_, i) =>
        (i == lengths.Length - 1 ? "REM SESSION 02\n" : "")
        + string.Create(
            CultureInfo.InvariantCulture,
            $"FILE \"{i + 1:00}.bin\" BINARY\n  TRACK {i + 1:00} {(i == lengths.Length - 1 ? "MODE1/2352" : "AUDIO")}\n    INDEX 01 "
                + $"00:00:00\n")));
}
