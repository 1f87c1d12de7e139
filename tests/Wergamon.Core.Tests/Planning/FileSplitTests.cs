using CsCheck;
using Wergamon.Core.Audio;
using Wergamon.Core.Discs;
using Wergamon.Core.Planning;

namespace Wergamon.Core.Tests.Planning;

public sealed class FileSplitTests
{
    private static readonly PcmFormat Format = new(SampleRate.AudioDisc, 2, 16);

    /// <summary>
    /// Whatever the marks: the parts lie one after the other and together are the file; on sector borders, each begins on one.
    /// </summary>
    [Fact]
    public void Parts_together_are_the_file()
    {
        Gen.Select(
            Gen.Double[-10, 700].Array[0, 20], Gen.Long[1, 30_000_000], Gen.Bool,
            Gen.OneOfConst(44_100, 48_000, 96_000, 11_025)).Sample((times, frames, onSectors, rate) =>
        {
            var format = Format with { Rate = new SampleRate(rate) };
            var (parts, problem) = FileSplit.Split(
                times.Select(time => new SplitMark(TimeSpan.FromSeconds(time), null)), format, frames, onSectors);
            if (problem is not null)
            {
                Assert.Empty(parts);
                return;
            }

            Assert.Equal(0, parts[0].Range.Start);
            Assert.All(parts.Zip(parts.Skip(1)), pair => Assert.Equal(pair.First.Range.End, pair.Second.Range.Start));
            Assert.Equal(frames, parts[^1].Range.End);
            Assert.All(parts, part => Assert.True(part.Range.Count > 0));
            // A rate that a second of 75 sectors divides has whole sectors.
            if (onSectors && rate % AudioDisc.SectorsPerSecond == 0)
                Assert.All(parts, part => Assert.Equal(0, part.Range.Start % (rate / AudioDisc.SectorsPerSecond)));
        });
    }

    /// <summary>
    /// IEC 60908: 75 sectors a second, 588 samples each. The pause before track 2 belongs to track 1, what lies before track 1 is number 0.
    /// </summary>
    [Fact]
    public void A_cue_sheet_splits_to_the_sample()
    {
        var sheet = CueSheetReader.Read(
            """
            PERFORMER "Tin Orchard"
            FILE "Night.wav" WAVE
              TRACK 01 AUDIO
                TITLE "Cage"
                INDEX 01 00:02:33
              TRACK 02 AUDIO
                TITLE "Winch"
                PERFORMER "Odalys Fenn"
                INDEX 00 03:00:00
                INDEX 01 03:02:01
            """).Sheet;
        var (parts, problem) = FileSplit.Split(FileSplit.MarksOf(sheet, 0), Format, 20_000_000, onSectors: false, numbersLead: true);
        Assert.Null(problem);
        long first = (2 * 75 + 33) * 588, second = (182 * 75 + 1) * 588;
        Assert.Equal(
            [
                new TrackPart(new FrameRange(0, first), 0, 2, null) { AlbumArtist = "Tin Orchard" },
                new TrackPart(new FrameRange(first, second - first), 1, 2, "Cage") { Artist = "Tin Orchard", AlbumArtist = "Tin Orchard" },
                new TrackPart(
                    new FrameRange(second, 20_000_000 - second), 2, 2, "Winch") { Artist = "Odalys Fenn", AlbumArtist = "Tin Orchard" }
            ],
            parts);
    }

    [Theory]
    [InlineData("3:25", 205.0, "")]
    [InlineData("0:00.5 The Long Adit", 0.5, "The Long Adit")]
    [InlineData("1:02:30.25\tPit Pony", 3750.25, "Pit Pony")]
    [InlineData("125:00", 7500.0, "")]
    public void Times_are_typed(string line, double seconds, string title)
    {
        var (marks, problem) = FileSplit.Read("\n " + line + " \r\n");
        Assert.Null(problem);
        Assert.Equal(new SplitMark(TimeSpan.FromSeconds(seconds), title), Assert.Single(marks));
    }

    [Theory]
    [InlineData("", "Enter at least one time")]
    [InlineData("3:25\nlater", "\"later\" does not begin with a time")]
    [InlineData("205", "does not begin with a time")]
    public void Invalid_time_is_reported(string typed, string words) =>
        Assert.Contains(words, FileSplit.Read(typed).Problem, StringComparison.Ordinal);
}
