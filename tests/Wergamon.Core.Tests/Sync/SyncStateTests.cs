using Wergamon.Core.Planning;
using Wergamon.Core.Sync;

namespace Wergamon.Core.Tests.Sync;

/// <summary>What a file of a mirror or a stick needs.</summary>
public sealed class SyncStateTests
{
    private const string Path = "out/01 Cage.mp3", Other = "out/02 Cage.mp3";

    private static readonly SyncStamp Stamp = new(5_000, 9_000);
    private static readonly SourceSound Sound = new("sound", 100, 1_000, "MP3 256");
    private static readonly SourceSound Unknown = Sound with { Digest = null };
    private static readonly SourceSound Touched = Unknown with { ModifiedAt = 2_000 };
    private static readonly SourceSound Another = Sound with { Digest = "another" };
    private static readonly WantedFile Wanted = new(SyncKey.OfTrack(7), Path, Sound, "tags");
    private static readonly WrittenFile Written = new(SyncKey.OfTrack(7), Path, Sound, "tags", Stamp, 1);

    /// <summary>What is wanted, what was written, what is there, what it needs, and the sound that counts until it is written.</summary>
    public static TheoryData<WantedFile, WrittenFile, SyncStamp?, SyncState, SourceSound> Cases { get; } = new()
    {
        { Wanted, Written, Stamp, SyncState.UpToDate, Sound },
        { Wanted, Written, null, SyncState.Deleted, Sound },
        { Wanted, Written, Stamp with { Bytes = 5_001 }, SyncState.ChangedThere, Sound },
        { Wanted, Written, Stamp with { ModifiedAt = 11_000 }, SyncState.ChangedThere, Sound },
        // The digest decides, however the file has changed.
        { Wanted with { Sound = Sound with { Bytes = 200, ModifiedAt = 2_000 } }, Written, Stamp, SyncState.UpToDate, Sound },
        { Wanted with { Sound = Another }, Written, Stamp, SyncState.Sound, Another },
        { Wanted with { Sound = Sound with { Recipe = "128" } }, Written, Stamp, SyncState.Sound, Sound with { Recipe = "128" } },
        { Wanted, Written with { Sound = null }, Stamp, SyncState.Sound, Sound },
        { Wanted with { Tags = "others" }, Written, Stamp, SyncState.Tags, Sound },
        { Wanted with { Path = Other }, Written, Stamp, SyncState.Moved, Sound },
        { Wanted with { Path = Other, Tags = "others" }, Written, Stamp, SyncState.Tags, Sound },
        { Wanted with { Path = Other, Tags = "others", Sound = Another }, Written, Stamp, SyncState.Sound, Another },
        // Before an analysis, only an untouched file is known to sound as it did.
        { Wanted with { Sound = Unknown }, Written, Stamp, SyncState.UpToDate, Sound },
        { Wanted with { Sound = Touched }, Written, Stamp, SyncState.NotAnalysed, Sound },
        { Wanted with { Sound = Touched, Tags = "others" }, Written, Stamp, SyncState.Tags, Sound },
        { Wanted with { Sound = Touched, Path = Other }, Written, Stamp, SyncState.Moved, Sound },
        { Wanted with { Sound = Touched }, Written, null, SyncState.Deleted, Touched },
        { Wanted with { Sound = Touched with { Recipe = "128" } }, Written, Stamp, SyncState.Sound, Touched with { Recipe = "128" } },
        // A file made before its source was analysed, which has been written to since: nobody can tell any more.
        { Wanted with { Sound = Sound with { ModifiedAt = 2_000 } }, Written with { Sound = Unknown }, Stamp, SyncState.Sound,
            Sound with { ModifiedAt = 2_000 } },
        // Without its source, a file stays as and where it is.
        { Wanted with { Sound = null, Path = Other, Tags = "others" }, Written, Stamp, SyncState.SourceMissing, Sound },
        { Wanted with { Sound = null }, Written, null, SyncState.SourceMissing, Sound },
        { Wanted with { Sound = null }, Written, Stamp with { Bytes = 1 }, SyncState.ChangedThere, Sound },
    };

    [Theory]
    [MemberData(nameof(Cases))]
    public void A_file_is_compared_with_what_was_written(
        WantedFile wanted, WrittenFile written, SyncStamp? there, SyncState expected, SourceSound sound)
    {
        var step = Assert.Single(Compare([wanted], [written], there).Steps);
        Assert.Equal((expected, sound), (step.State, step.Wanted!.Sound!));
        Assert.Equal(expected is SyncState.Deleted or SyncState.Sound, step.IsWritten);
        Assert.Equal(expected is SyncState.Tags or SyncState.Moved && wanted.Path != written.Path, step.IsMoved);
        Assert.Equal(
            expected is SyncState.Deleted or SyncState.Sound or SyncState.Tags or SyncState.Moved, step.IsToDo);
        Assert.Null(step.Analysed);
        if (!step.IsToDo)
            Assert.Equal(written.Path, step.Wanted.Path);
    }

    [Fact]
    public void A_digest_that_came_after_writing_is_learned()
    {
        var step = Assert.Single(Compare([Wanted with { Tags = "others" }], [Written with { Sound = Unknown }], Stamp).Steps);
        Assert.Equal((SyncState.Tags, Written), (step.State, step.Analysed));
        Assert.Equal(Sound, step.Wanted!.Sound);
    }

    [Fact]
    public void Files_without_a_track_are_gone_and_forgotten_where_they_are_no_longer_there()
    {
        WrittenFile[] written = [.. "cab".Select((name, i) => Written with { Key = SyncKey.OfTrack(i), Path = $"out/{name}" })];
        var plan = FolderComparison.Compare(
            [Wanted], written.ToDictionary(file => file.Key),
            new Dictionary<string, SyncStamp> { ["out/a"] = Stamp, ["out/b"] = Stamp with { Bytes = 1 }, ["theirs"] = Stamp },
            playsInOrderOfWriting: false);
        Assert.Equal(
            [(Path, SyncState.New), ("out/a", SyncState.Gone), ("out/b", SyncState.ChangedThere)],
            plan.Steps.Select(step => ((step.Wanted?.Path ?? step.Written?.Path)!, step.State)));
        Assert.Equal(["out/c"], plan.Vanished.Select(file => file.Path));
        Assert.Equal(["theirs"], plan.Foreign);
    }

    /// <summary>A file that stays without its source keeps its name, whoever asks for it, and its place in play order.</summary>
    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public void The_name_of_a_file_without_its_source_is_taken(bool playsInOrder)
    {
        var first = Wanted with { Key = SyncKey.OfTrack(1) };
        var kept = Wanted with { Sound = null };
        var plan = FolderComparison.Compare(
            [first, kept], new Dictionary<SyncKey, WrittenFile> { [kept.Key] = Written },
            new Dictionary<string, SyncStamp> { [Path] = Stamp }, playsInOrder);
        Assert.Equal(
            [("out/01 Cage (2).mp3", SyncState.New), (Path, playsInOrder ? SyncState.Order : SyncState.SourceMissing)],
            plan.Steps.Select(step => (step.Wanted!.Path, step.State)));
    }

    private static SyncPlan Compare(IReadOnlyList<WantedFile> wanted, IEnumerable<WrittenFile> written, SyncStamp? there) =>
        FolderComparison.Compare(
            wanted, written.ToDictionary(file => file.Key),
            there is { } stamp ? new Dictionary<string, SyncStamp> { [Path] = stamp } : [], playsInOrderOfWriting: false);
}
