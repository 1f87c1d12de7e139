using Wergamon.Core.Sync;

namespace Wergamon.Core.Tests.Planning;

public sealed class MirrorComparisonTests
{
    private static readonly MirrorEntry Made = new(7, "/out/01 Cage.mp3", "sound", 100, 1_000, "MP3 256", "tags");

    public static TheoryData<MirrorEntry, MirrorEntry, bool, MirrorState> Cases { get; } = new()
    {
        { Made, Made, true, MirrorState.UpToDate },
        { Made, Made, false, MirrorState.Lost },
        // The digest decides, however the file has changed.
        { Made with { SourceBytes = 200, SourceModifiedAt = 2_000 }, Made, true, MirrorState.UpToDate },
        { Made with { Digest = "other" }, Made, true, MirrorState.Sound },
        { Made with { Recipe = "MP3 128" }, Made, true, MirrorState.Sound },
        { Made with { Tags = "others" }, Made, true, MirrorState.Tags },
        { Made with { Path = "/out/02 Cage.mp3" }, Made, true, MirrorState.Moved },
        { Made with { Path = "/out/02 Cage.mp3", Tags = "others" }, Made, true, MirrorState.Tags },
        { Made with { Digest = "other", Tags = "others", Path = "/out/02 Cage.mp3" }, Made, true, MirrorState.Sound },
        // Before an analysis, only an untouched file is known to sound as it did.
        { Made with { Digest = null }, Made, true, MirrorState.UpToDate },
        { Made with { Digest = null, SourceModifiedAt = 2_000 }, Made, true, MirrorState.NotAnalysed },
        { Made with { Digest = null, Recipe = "MP3 128", SourceModifiedAt = 2_000 }, Made, true, MirrorState.Sound },
        // A file made before its source was analysed, which has been written to since: nobody can tell any more.
        { Made with { SourceModifiedAt = 2_000 }, Made with { Digest = null }, true, MirrorState.Sound },
        { Made, Made with { Digest = null }, true, MirrorState.UpToDate },
    };

    [Theory]
    [MemberData(nameof(Cases))]
    public void A_track_is_compared_with_its_file(MirrorEntry wanted, MirrorEntry made, bool isThere, MirrorState expected)
    {
        var step = Assert.Single(
            MirrorComparison.Compare(
                [wanted], new Dictionary<long, MirrorEntry> { [7] = made }, new HashSet<long>(), path => isThere && path == made.Path));
        Assert.Equal(expected, step.State);
        Assert.Equal(expected is MirrorState.Lost or MirrorState.Sound, step.Converts);
        Assert.Equal(expected is MirrorState.Tags or MirrorState.Moved && wanted.Path != made.Path, step.Moves);
        Assert.Equal(expected is not (MirrorState.UpToDate or MirrorState.NotAnalysed), step.IsToDo);
    }

    [Fact]
    public void Tracks_without_a_file_are_new_and_files_without_a_track_are_gone_unless_their_source_is_away()
    {
        var made = new Dictionary<long, MirrorEntry>
        {
            [1] = Made with { TrackId = 1, Path = "/out/b" },
            [2] = Made with { TrackId = 2, Path = "/out/a" },
            [3] = Made with { TrackId = 3, Path = "/out/c" }
        };
        var steps = MirrorComparison.Compare([Made], made, new HashSet<long> { 3, 4 }, _ => true);
        Assert.Equal(
            [
                (7L, MirrorState.New, true), (3L, MirrorState.SourceMissing, false), (2L, MirrorState.Gone, true),
                (1L, MirrorState.Gone, true)
            ],
            steps.Select(step => (step.TrackId, step.State, step.IsToDo)));
    }
}
