using Wergamon.Core.Audio;
using Wergamon.Core.Matching;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Tests.Matching;

/// <summary>When two files are copies of one track, and what is proposed for duplicates.</summary>
public sealed class MatchRuleTests
{
    private static readonly CopyTraits Flac = new()
    {
        Names = "tin orchard\npowder monkey",
        Album = "tin orchard\nsongs",
        Disc = 1,
        Number = 2,
        Length = TimeSpan.FromSeconds(200),
        Format = new PcmFormat(SampleRate.AudioDisc, 2, 16),
        IsLossless = true,
        Samples = "a",
        IsSilent = false,
    };

    private static readonly CopyTraits Mp3 = Flac with
    {
        Format = new PcmFormat(SampleRate.AudioDisc, 2, 32, SampleKind.Float),
        IsLossless = false,
        Samples = "b",
        Length = TimeSpan.FromSeconds(200.05)
    };

    public static TheoryData<string, CopyTraits, CopyTraits, string?> Pairs => new()
    {
        { "a lossy copy of the same name and length", Flac, Mp3, "names" },
        { "before anything is known of its samples", Flac, Mp3 with { Samples = null }, "names" },
        { "other length", Flac, Mp3 with { Length = TimeSpan.FromSeconds(203) }, null },
        { "other title", Flac, Mp3 with { Names = "tin orchard\nother" }, null },
        { "no title", Flac, Mp3 with { Names = null }, null },
        { "other album", Flac, Mp3 with { Album = "various\nbest of" }, null },
        { "no album", Flac, Mp3 with { Album = null, Number = null, Disc = null }, "names" },
        { "other number on the album", Flac, Mp3 with { Number = 3 }, null },
        { "no number", Flac, Mp3 with { Number = null }, "names" },
        { "equal samples in another container", Flac, Flac, "samples" },
        { "equal samples under another title", Flac, Flac with { Names = "x\ny", Number = null }, "samples" },
        { "equal samples on another album", Flac, Flac with { Album = "various\nbest of" }, null },
        { "equal samples of silence", Flac with { IsSilent = true }, Flac with { IsSilent = true, Names = "x\ny" }, null },
        { "lossless, same name, other samples", Flac, Flac with { Samples = "c" }, null },
        { "lossless, same name, samples not known yet", Flac, Flac with { Samples = null }, null },
        { "lossless at another depth", Flac, Flac with { Samples = "c", Format = Flac.Format with { Bits = 24 } }, "names" },
        { "mono beside stereo", Flac, Mp3 with { Format = Mp3.Format with { Channels = 1 } }, "names" },
        { "surround beside stereo", Flac, Mp3 with { Format = Mp3.Format with { Channels = 6 } }, null },
    };

    [Theory]
    [MemberData(nameof(Pairs))]
    public void Files_are_joined_by_what_makes_them_one_track(string why, CopyTraits one, CopyTraits other, string? expected)
    {
        Assert.Equal((why, expected), (why, JoinedBy(one, other)));
        Assert.Equal((why, expected), (why, JoinedBy(other, one)));
    }

    private static string? JoinedBy(CopyTraits one, CopyTraits other) => one.IsCompatibleWith(other)
        ? MatchRule.All.FirstOrDefault(rule => rule.KeyOf(one) is { } key && key == rule.KeyOf(other) && rule.Fits(one, other))?.Name
        : null;

    [Fact]
    public void Names_are_compared_without_case_accents_and_forms()
    {
        var one = new TagSet();
        one.Set(FieldNames.Artist, "Söhne der Grube");
        one.Set(FieldNames.Title, "Cafe\u0301 ");
        var other = new TagSet();
        other.Set(FieldNames.AlbumArtist, "SOHNE DER GRUBE");
        other.Set(FieldNames.Title, "CAFÉ");
        Assert.Equal(CopyTraits.NamesOf(one), CopyTraits.NamesOf(other));
        Assert.Null(CopyTraits.NamesOf(new TagSet()));
    }

    private static DuplicateFile File(
        long id, string label, long track = 1, bool lossless = true, int kilobits = 900, string? madeFor = null, int tags = 8,
        bool holdsTags = true, long bytes = 20, bool damaged = false, int generation = 1) => new()
        {
            CopyId = id,
            TrackId = track,
            Label = label,
            IsLossless = lossless,
            Generation = lossless ? 0 : generation,
            KilobitsPerSecond = kilobits,
            MadeFor = madeFor,
            TagCount = tags,
            PictureCount = 1,
            HoldsTagsWell = holdsTags,
            Bytes = bytes,
            IsDamaged = damaged,
        };

    public static TheoryData<string, DuplicateKind, DuplicateFile[], long[]> Groups => new()
    {
        {
            "the container that holds tags stays", DuplicateKind.SameSound, [File(1, "WAV", holdsTags: false, bytes: 50), File(2, "FLAC")],
            [1]
        },
        { "the one with more tags stays", DuplicateKind.SameSound, [File(1, "FLAC", tags: 3), File(2, "FLAC", tags: 9)], [1] },
        { "the smaller one stays", DuplicateKind.SameSound, [File(1, "AIFF", bytes: 50), File(2, "FLAC", bytes: 30)], [1] },
        { "all alike: the first stays", DuplicateKind.SameSound, [File(1, "FLAC"), File(2, "FLAC"), File(3, "FLAC")], [2, 3] },
        { "the damaged one goes", DuplicateKind.SameSound, [File(1, "FLAC", damaged: true, tags: 20), File(2, "FLAC")], [1] },
        {
            "a source does not go for what was made from it", DuplicateKind.SameSound,
            [File(1, "WAV", holdsTags: false, bytes: 50), File(2, "FLAC", madeFor: "Archive")], []
        },
        {
            "made twice for one target", DuplicateKind.SameSound,
            [File(1, "FLAC", madeFor: "Archive"), File(2, "FLAC", madeFor: "Archive")], [2]
        },
        { "on two albums, both stay", DuplicateKind.SameSound, [File(1, "FLAC", track: 1), File(2, "FLAC", track: 2)], [] },
        {
            "on two albums, duplicates of one of them go", DuplicateKind.SameSound,
            [File(1, "FLAC", track: 1), File(2, "FLAC", track: 2), File(3, "FLAC", track: 2)], [3]
        },
        {
            "the highest bitrate stays", DuplicateKind.SeveralLossy,
            [
                File(1, "MP3 128", lossless: false, kilobits: 128), File(2, "MP3 320", lossless: false, kilobits: 320),
                File(3, "AAC 96", lossless: false, kilobits: 96)
            ],
            [1, 3]
        },
        {
            "fewer encodings beat bitrate", DuplicateKind.SeveralLossy,
            [File(1, "MP3 320", lossless: false, kilobits: 320, generation: 2), File(2, "MP3 192", lossless: false, kilobits: 192)], [1]
        },
        {
            "what was made for a target stays", DuplicateKind.SeveralLossy,
            [File(1, "MP3 320", lossless: false, kilobits: 320), File(2, "MP3 128", lossless: false, kilobits: 128, madeFor: "Car")], []
        },
        { "names alone decide nothing", DuplicateKind.SameName, [File(1, "FLAC", track: 1), File(2, "FLAC", track: 2)], [] },
    };

    [Theory]
    [MemberData(nameof(Groups))]
    public void The_best_duplicate_stays_and_every_track_keeps_one(string why, DuplicateKind kind, DuplicateFile[] files, long[] going)
    {
        var advice = TidyProposal.For(kind, files);
        Assert.Equal(files.Select(file => file.CopyId), advice.Select(each => each.CopyId));
        Assert.Equal((why, string.Join(' ', going)), (why, string.Join(' ', advice.Where(each => each.Goes).Select(each => each.CopyId))));
        Assert.All(
            files.GroupBy(file => file.TrackId),
            track => Assert.Contains(track, file => !advice.Single(each => each.CopyId == file.CopyId).Goes));
    }
}
