using Wergamon.Core.Naming;

namespace Wergamon.Core.Tests.Naming;

public sealed class AlbumNumbersTests
{
    [Theory]
    [InlineData("1 2 3", "", "")]
    [InlineData("1 2 4", "", "Track 3 is missing.")]
    [InlineData("3 4", "", "Tracks 1 and 2 are missing.")]
    [InlineData("1 2 3", "0:5", "Tracks 4 and 5 are missing.")]
    [InlineData("1 2 3", "0:2", "")]
    [InlineData("1 2 2 3", "", "Track 2 occurs more than once.")]
    [InlineData("1 1 2 2", "", "Tracks 1 and 2 occur more than once.")]
    [InlineData("1 20", "", "18 tracks between 2 and 19 are missing.")]
    [InlineData("1 2 -", "", "1 track has no number.")]
    [InlineData("- -", "", "")]
    [InlineData("", "0:9", "")]
    [InlineData("1.1 1.2 2.1 2.3", "1:2 2:3", "Disc 2: track 2 is missing.")]
    [InlineData("1.1 1.3 2.1", "", "Disc 1: track 2 is missing.")]
    [InlineData("1.1 2", "", "Without a disc: track 1 is missing.")]
    [InlineData("0 1", "", "1 track has no number.")]
    public void Gaps_and_duplicates_are_reported(string tracks, string totals, string expected)
    {
        var numbers = tracks.Split(' ', StringSplitOptions.RemoveEmptyEntries).Select(track => track.Split('.') switch
        {
            ["-"] => ((int?)null, (int?)null),
            [var number] => (null, int.Parse(number, null)),
            [var disc, var number] => (int.Parse(disc, null), int.Parse(number, null)),
            _ => throw new ArgumentException(track),
        }).ToList();
        var known = totals.Split(' ', StringSplitOptions.RemoveEmptyEntries)
            .Select(total => total.Split(':'))
            .ToDictionary(total => int.Parse(total[0], null), total => int.Parse(total[1], null));
        Assert.Equal(expected, string.Join(' ', AlbumNumbers.Oddities(numbers, known)));
    }
}
