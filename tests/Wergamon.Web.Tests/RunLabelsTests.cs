using Wergamon.App.Runs;
using Wergamon.Web.Display;

namespace Wergamon.Web.Tests;

/// <summary>What is said of each kind of run: while it runs, when it has ended well, and when something failed.</summary>
public sealed class RunLabelsTests
{
    private static readonly string[][] Expected =
    [
        ["convert", "Converting 4 of 6", "Quarry: 6 tracks for Pocket player, all proved"],
        ["mirror", "Updating 4 of 6", "Quarry: 6 files for Pocket player, all updated"],
        ["rip", "Ripping 4 of 6", "Quarry: 6 files for Pocket player, all read back"],
        ["rename", "Writing names 4 of 6", "Quarry: 6 files for Pocket player, all renamed"],
        ["tags", "Writing tags 4 of 6", "Quarry: Tags of 6 files, all written"],
        ["undo-tags", "Undoing tags 4 of 6", "Quarry: Tags of 6 files, all undone"],
        ["music", "Analysing 4 of 6", "Quarry: Tempo and key of 6 tracks, all analysed"],
        ["null-test", "Comparing 4 of 6", "Quarry: Pocket player compared"],
        ["passes", "Encoding 4 of 6", "Quarry: Pocket player with 6 targets"],
        ["inspect", "Checking 4 of 6", "Quarry: 6 files checked"],
        ["burn", "Burning 4 of 6", "Quarry: Audio disc in Pocket player, all done"],
        ["audio-image", "Writing an image 4 of 6", "Quarry: Image of an audio disc, all written"],
        ["data-disc", "Burning 4 of 6", "Quarry: Data disc in Pocket player, all done"],
        ["data-image", "Writing an image 4 of 6", "Quarry: Image of a data disc, all done"],
        ["joined-file", "Joining 4 of 6", "Quarry: One file for Pocket player, all proved"],
        ["zip", "Converting 4 of 6", "Quarry: 6 files for Pocket player, all proved"],
        ["stick", "Updating 4 of 6", "Quarry: 6 files for Pocket player, all done"],
        ["stick-import", "Copying 4 of 6", "Quarry: 6 files into the library, all copied"],
    ];

    [Fact]
    public async Task Each_kind_has_its_own_words()
    {
        await using var server = await InProcessServer.StartAsync();
        var words = server.Get<RunLabels>();
        Assert.Equal(Expected.Select(line => line[0]).Order(), server.Get<IEnumerable<RunKind>>().Select(kind => kind.Key).Order());
        Assert.All(Expected, line =>
        {
            var run = new RunRow { Kind = line[0], Title = "Quarry", Purpose = "Pocket player", Results = 6, Done = 6, Ended = 3 };
            Assert.Equal((line[1], line[2]), (words.Doing(run), words.Ended(run)));
            Assert.EndsWith(", 2 failed", words.Ended(run with { Done = 4, Failed = 2 }), StringComparison.Ordinal);
        });
    }
}
