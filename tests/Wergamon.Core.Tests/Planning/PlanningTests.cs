using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Formats.Mp3;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Tests.Planning;

public sealed class PlanningTests
{
    private static readonly Target Archive = StandardTargets.BuiltIn[0];
    private static readonly Target PocketPlayer = StandardTargets.BuiltIn[1];
    private static readonly Target DjStick = StandardTargets.BuiltIn[2];
    private static readonly Target Plain = StandardTargets.BuiltIn[3];

    /// <summary>Each step as "label fidelity", in order: E exact, R recalculated, L lossy.</summary>
    [Theory]
    [InlineData("archive", "flac", 44_100, 2, 16, "FLAC as it is E")]
    [InlineData("pocket-player", "mp3", 44_100, 2, -32, "MP3 as it is E")]
    [InlineData("pocket-player", "mp3", 48_000, 2, -32, "48 to 44.1 kHz R, MP3 256 L")]
    [InlineData("archive", "wav", 96_000, 6, 24, "FLAC 24-bit E")]
    [InlineData("archive", "wav", 44_100, 2, 8, "16-bit E, FLAC 16-bit E")]
    [InlineData("archive", "wav", 44_100, 2, 20, "24-bit E, FLAC 24-bit E")]
    [InlineData("archive", "wav", 44_100, 2, 32, "to 24-bit R, FLAC 24-bit E")]
    [InlineData("archive", "wav", 44_100, 2, -32, "to 24-bit R, FLAC 24-bit E")]
    [InlineData("archive", "mp3", 44_100, 2, -32, "to 16-bit R, FLAC 16-bit E")]
    [InlineData("pocket-player", "flac", 44_100, 2, 16, "MP3 256 L")]
    [InlineData("pocket-player", "flac", 48_000, 2, 24, "48 to 44.1 kHz R, MP3 256 L")]
    [InlineData("pocket-player", "flac", 48_000, 6, 24, "downmix to stereo R, 48 to 44.1 kHz R, MP3 256 L")]
    [InlineData("pocket-player", "flac", 192_000, 1, 24, "192 to 44.1 kHz R, MP3 256 L")]
    [InlineData("pocket-player", "wav", 22_050, 1, 16, "MP3 160 L")]
    [InlineData("pocket-player", "wav", 37_800, 1, 16, "37.8 to 44.1 kHz R, MP3 256 L")]
    [InlineData("dj-stick", "flac", 48_000, 2, 24, "AIFF 24-bit E")]
    [InlineData("dj-stick", "wav", 48_000, 2, 32, "to 24-bit R, AIFF 24-bit E")]
    [InlineData("plain", "wav", 48_000, 2, -32, "WAV 32-bit float E")]
    [InlineData("plain", "mp3", 48_000, 2, -32, "to 16-bit R, WAV 16-bit E")]
    [InlineData("plain", "flac", 96_000, 6, 24, "WAV 24-bit E")]
    public void Whatever_the_target_can_hold_stays_unchanged(
        string target, string format, int rate, int channels, int bits, string expected)
    {
        var route = RoutePlanner.Plan(
            Facts(format, rate, channels, bits), Fidelity.Exact, StandardTargets.BuiltIn.First(t => t.Key == target));
        Assert.Equal(expected, string.Join(", ", route.Steps.Select(step => $"{step.Label} {"ERL"[(int)step.Fidelity]}")));
    }

    /// <summary>A format has a place for some layouts only; 5.1 with the surrounds at the sides is that with them at the back.</summary>
    [Theory]
    [InlineData("alac", ChannelRoles.Surround51, true)]
    [InlineData("alac", ChannelRoles.Surround71, false)]
    [InlineData("alac", ChannelRoles.Quad, false)]
    [InlineData("opus", ChannelRoles.Quad, true)]
    [InlineData("opus", ChannelRoles.Surround40, false)]
    [InlineData("opus", ChannelRoles.Surround71, true)]
    [InlineData("flac", ChannelRoles.Surround40, true)]
    [InlineData("mp3", ChannelRoles.Surround30, false)]
    public void A_layout_that_the_format_has_no_place_for_is_downmixed(string key, ChannelRoles roles, bool stays)
    {
        var format = (WritableFormat)FileFormats.Find(key)!;
        var facts = Facts("wav", 48_000, roles.Count(), 24);
        facts = facts with { Format = facts.Format with { Roles = roles } };
        var route = RoutePlanner.Plan(facts, Fidelity.Exact, new Target(key, format.Name, format.UsualSettings));
        Assert.Equal(stays ? roles.Count() : 2, route.Output.Channels);
    }

    [Fact]
    public void Forty_eight_kilohertz_stays_where_the_target_allows_it()
    {
        var target = PocketPlayer with { HighestRate = new SampleRate(48_000) };
        Assert.Single(RoutePlanner.Plan(Facts("flac", 48_000, 2, 24), Fidelity.Exact, target).Steps);
        Assert.Equal("96 to 48 kHz", RoutePlanner.Plan(Facts("flac", 96_000, 2, 24), Fidelity.Exact, target).Steps[0].Label);
        Assert.Equal("88.2 to 44.1 kHz", RoutePlanner.Plan(Facts("flac", 88_200, 2, 24), Fidelity.Exact, target).Steps[0].Label);
    }

    /// <summary>A target that wants one rate and depth from every source; steps only where they are needed.</summary>
    [Theory]
    [InlineData(44_100, 16, 44_100, 16, "FLAC")]
    [InlineData(48_000, 24, 44_100, 16, "48 to 44.1 kHz, to 16-bit, FLAC")]
    [InlineData(44_100, 16, 48_000, 24, "44.1 to 48 kHz, to 24-bit, FLAC")]
    [InlineData(48_000, 16, 48_000, 24, "24-bit, FLAC")]
    [InlineData(44_100, 24, 44_100, 16, "to 16-bit, FLAC")]
    [InlineData(44_100, -32, 44_100, 24, "to 24-bit, FLAC")]
    public void A_target_can_want_one_rate_and_depth(int rate, int bits, int wantedRate, int wantedBits, string expected)
    {
        var target = new Target("own", "Own", new FlacSettings()) { Rate = new SampleRate(wantedRate), Bits = wantedBits };
        var route = RoutePlanner.Plan(Facts("flac", rate, 2, bits), Fidelity.Exact, target);
        Assert.Equal(expected, string.Join(", ", route.Steps.Select(step => step.Label.Split(' ')[0] == "FLAC" ? "FLAC" : step.Label)));
        Assert.Equal((wantedRate, wantedBits), (route.Output.Rate.Hertz, route.Output.Bits));
    }

    /// <summary>
    /// A WAV of 24 bits has 2,116.8 kbit/s, an audio disc 1,411.2 (IEC 60908); MP3 at 192 is 9 % of the former (common practice, no
    /// source).
    /// </summary>
    [Theory]
    [InlineData(44_100, 2, 24)]
    [InlineData(48_000, 6, 24)]
    [InlineData(22_050, 2, 16)]
    [InlineData(44_100, 2, -32)]
    public void An_audio_disc_gets_what_it_holds(int rate, int channels, int bits)
    {
        var sound = RoutePlanner.Plan(
            Facts("wav", rate, channels, bits), Fidelity.Exact, StandardTargets.BuiltIn.First(target => target.Key == "audio-disc")).Output;
        Assert.Equal(1_411.2, sound.Rate.Hertz * sound.Channels * sound.Bits / 1000.0);
        Assert.False(sound.IsFloat);
        Assert.Equal(9, Math.Round(100 * 192 / 2_116.8));
    }

    [Fact]
    public void A_rate_that_the_format_has_not_is_the_highest_below()
    {
        var target = PocketPlayer with { HighestRate = null, Rate = new SampleRate(96_000) };
        Assert.Equal(48_000, RoutePlanner.Plan(Facts("flac", 96_000, 2, 24), Fidelity.Exact, target).Output.Rate.Hertz);
    }

    [Fact]
    public void Artwork_is_left_out_or_made_smaller_by_the_target()
    {
        PictureEntry back = new(PictureKind.Back, "image/png", "", 900_000), front = new(PictureKind.Front, "image/jpeg", "", 400_000);
        var contents = new TagContents([], [back, front], []);
        Assert.Equal(contents, ArtworkRule.Everything.ApplyTo(contents));
        Assert.Equal([front with { Bytes = 62_500 }], new ArtworkRule(ArtworkChoice.FrontOnly, 500).ApplyTo(contents).Pictures);
        Assert.Equal([back], new ArtworkRule(ArtworkChoice.FrontOnly).ApplyTo(contents with { Pictures = [back, back] }).Pictures);
        Assert.Empty(new ArtworkRule(ArtworkChoice.None, 500).ApplyTo(contents).Pictures);
    }

    /// <summary>A route as a whole: the worst step counts, and a lossy source stays lossy whatever the format.</summary>
    [Theory]
    [InlineData("archive", "flac", Fidelity.Exact, Fidelity.Exact, 0)]
    [InlineData("archive", "mp3", Fidelity.Lossy, Fidelity.Lossy, 0)]
    [InlineData("pocket-player", "flac", Fidelity.Exact, Fidelity.Lossy, 1)]
    [InlineData("archive", "flac", Fidelity.Recalculated, Fidelity.Recalculated, 0)]
    public void A_result_is_as_good_as_its_worst_step(string target, string format, Fidelity source, Fidelity result, int generations)
    {
        var route = RoutePlanner.Plan(
            Facts(format, 44_100, 2, format == "mp3" ? -32 : 16), source, StandardTargets.BuiltIn.First(t => t.Key == target));
        Assert.Equal(result, route.ResultFidelity);
        Assert.Equal(generations, route.AddedGenerations);
    }

    /// <summary>An hour at 256 kbit/s is 115.2 MB (arithmetic), and 320 is the most there is (ISO 11172-3).</summary>
    [Theory]
    [InlineData(256, 115_200_000)]
    [InlineData(320, 144_000_000)]
    [InlineData(128, 57_600_000)]
    public void Size_at_a_constant_bitrate_follows_from_the_length(int rate, long expected)
    {
        var target = PocketPlayer with { Encoder = Mp3Settings.Constant(rate) };
        var route = RoutePlanner.Plan(Facts("flac", 44_100, 2, 16, 3600), Fidelity.Exact, target);
        var size = SizeOf(route, target);
        Assert.Equal(SizeBasis.Bitrate, size.Basis);
        Assert.InRange(size.Bytes - target.Format.TagBytes(TagContents.Empty), expected, expected + 3000);
    }

    [Fact]
    public void Size_of_pcm_is_exact()
    {
        var facts = Facts("flac", 44_100, 2, 16, 60);
        Assert.Equal(new SizeEstimate(80 + 60 * 176_400, SizeBasis.Exact), SizeOf(RoutePlanner.Plan(facts, Fidelity.Exact, Plain), Plain));
        Assert.Equal(
            new SizeEstimate(54 + 60 * 176_400, SizeBasis.Exact), SizeOf(RoutePlanner.Plan(facts, Fidelity.Exact, DjStick), DjStick));
    }

    /// <summary>50 to 70 % of PCM (common practice, no source).</summary>
    [Fact]
    public void Size_of_flac_is_an_estimate_and_says_so()
    {
        var size = SizeOf(RoutePlanner.Plan(Facts("wav", 44_100, 2, 16, 60), Fidelity.Exact, Archive), Archive);
        Assert.Equal(SizeBasis.Experience, size.Basis);
        Assert.InRange(size.Bytes, 0.5 * 60 * 176_400, 0.7 * 60 * 176_400);
    }

    [Fact]
    public void Lossy_sources_are_warned_about()
    {
        Assert.Equal(
            [PlanWarning.LossyToLossy, PlanWarning.NothingGained], Warnings(Source(1, "mp3"), PocketPlayer with { EncodesAgain = true }));
        Assert.Empty(Warnings(Source(1, "mp3"), PocketPlayer));
        Assert.Equal([PlanWarning.LossyToLossless], Warnings(Source(1, "mp3"), Archive));
        Assert.Equal([PlanWarning.LossyToLossless, PlanWarning.TagsHeldBadly], Warnings(Source(1, "mp3"), Plain));
        Assert.Empty(Warnings(Source(1, "flac"), PocketPlayer));
    }

    [Fact]
    public void Tags_lost_by_a_target_are_counted()
    {
        var tags = Tags("Title");
        tags.Opaque.Add(new OpaqueField("ID3v2", "PRIV", new byte[3]));
        var source = new PlanSource(1, Facts("mp3", 44_100, 2, -32), Fidelity.Lossy, 1000, tags, TagContents.Of(tags), 0);
        var item = Assert.Single(Planner.Plan([source], Archive, "/out", _ => null));
        Assert.Equal((5, 4), (source.Contents.Count, item.TagsKept));
        Assert.Contains(
            item.Notes, note => note.Warning == PlanWarning.TagsNotHeld && note.Text.StartsWith("1 tag ", StringComparison.Ordinal));
    }

    [Theory]
    [InlineData(ConflictRule.KeepBoth, "Artist/Album/01 Title (3).flac", false)]
    [InlineData(ConflictRule.Skip, "Artist/Album/01 Title.flac", true)]
    [InlineData(ConflictRule.Replace, "Artist/Album/01 Title.flac", false)]
    public void Existing_name_follows_the_rule_of_the_target(ConflictRule rule, string path, bool skipped)
    {
        string[] taken = ["Artist/Album/01 Title.flac", "Artist/Album/01 Title (2).flac"];
        var item = Assert.Single(
            Planner.Plan(
                [Source(1, "wav")], Archive with { OnConflict = rule }, "/out", path => taken.Contains(path["/out/".Length..]) ? 1 : null));
        Assert.Equal((path, skipped), (item.RelativePath, item.IsSkipped));
        Assert.Contains(item.Notes, note => note.Warning == PlanWarning.NameExists);
    }

    /// <summary>The source was changed at 10, the file that has the name at another time.</summary>
    [Theory]
    [InlineData(9, false, "moves to the trash")]
    [InlineData(10, true, "newer than the source")]
    [InlineData(11, true, "newer than the source")]
    public void A_file_is_replaced_if_it_is_older(long existing, bool skipped, string words)
    {
        var item = Assert.Single(
            Planner.Plan(
                [Source(1, "wav") with { ModifiedAt = 10 }], Archive with { OnConflict = ConflictRule.ReplaceOlder }, "/out",
                _ => existing));
        Assert.Equal(("Artist/Album/01 Title.flac", skipped), (item.RelativePath, item.IsSkipped));
        Assert.Contains(words, item.Notes.Single(note => note.Warning == PlanWarning.NameExists).Text, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(OutputLocation.Folder, "/out", "Artist/Album/01 Title.flac")]
    [InlineData(OutputLocation.SourceTree, "/out", "Tin Orchard/b side.flac")]
    [InlineData(OutputLocation.BesideSource, "/music/Tin Orchard", "b side.flac")]
    public void Copies_are_placed_where_the_target_says(OutputLocation place, string folder, string path)
    {
        var source = Source(1, "wav") with { Path = "/music/Tin Orchard/b side.wav", Root = "/music" };
        var item = Assert.Single(Planner.Plan([source], Archive with { Place = place }, "/out", _ => null));
        Assert.Equal((folder, path), (item.Folder, item.RelativePath));
    }

    /// <summary>"Replace" means other files: the source itself stays, whatever the name of its copy.</summary>
    [Fact]
    public void A_source_is_never_replaced_by_its_own_copy()
    {
        var source = Source(1, "flac") with { Path = "/music/a.flac", Root = "/music" };
        var item = Assert.Single(
            Planner.Plan(
                [source], Archive with { Place = OutputLocation.BesideSource, OnConflict = ConflictRule.Replace, EncodesAgain = true },
                "/out",
                path => path == "/music/a.flac" ? 1 : null));
        Assert.Equal("a (2).flac", item.RelativePath);
    }

    [Fact]
    public void An_exception_counts_for_its_track_alone()
    {
        var exception = new TrackException { Name = "Other: name" }.With(
            Archive, Archive with { Encoder = Mp3Settings.Constant(320), Channels = ChannelChoice.Mono });
        var items = Planner.Plan([Source(1, "wav") with { Exception = exception }, Source(2, "wav")], Archive, "/out", _ => null);
        Assert.Equal(["to mono, MP3 320", "FLAC 16-bit"], items.Select(item => item.Route.InWords));
        Assert.Equal(["Artist/Album/Other- name.mp3", "Artist/Album/01 Title.flac"], items.Select(item => item.RelativePath));
        Assert.True(exception.With(Archive, Archive) is { IsEmpty: false, Sound: null });
    }

    [Fact]
    public void Names_that_differ_only_in_case_are_equal()
    {
        var other = Tags("title");
        var items = Planner.Plan([Source(1, "wav"), Source(2, "wav") with { Tags = other }], Archive, "/out", _ => null);
        Assert.Equal(["Artist/Album/01 Title.flac", "Artist/Album/01 title (2).flac"], items.Select(item => item.RelativePath));
    }

    [Fact]
    public void Tracks_of_a_plan_never_share_a_name()
    {
        var items = Planner.Plan(
            [Source(1, "wav"), Source(2, "wav"), Source(3, "wav")], Archive with { OnConflict = ConflictRule.Replace }, "/out", _ => null);
        Assert.Equal(
            ["Artist/Album/01 Title.flac", "Artist/Album/01 Title (2).flac", "Artist/Album/01 Title (3).flac"],
            items.Select(item => item.RelativePath));
    }

    private static SizeEstimate SizeOf(Route route, Target target) =>
        target.Format.EstimateSize(target.Encoder, route.Sound, TagContents.Empty);

    private static IEnumerable<PlanWarning> Warnings(PlanSource source, Target target) =>
        Planner.Plan([source], target, "/out", _ => null)[0].Notes.Select(note => note.Warning);

    private static PlanSource Source(long id, string format)
    {
        var tags = Tags("Title");
        return new PlanSource(
            id, Facts(format, 44_100, 2, format == "mp3" ? -32 : 16), format == "mp3" ? Fidelity.Lossy : Fidelity.Exact, 1000, tags,
            TagContents.Of(tags), 0);
    }

    private static TagSet Tags(string title)
    {
        var tags = new TagSet();
        tags.Set(FieldNames.Title, title);
        tags.Set(FieldNames.AlbumArtist, "Artist");
        tags.Set(FieldNames.Album, "Album");
        tags.Set(FieldNames.Track, "1");
        return tags;
    }

    /// <param name="bits">Negative for floats.</param>
    private static AudioFacts Facts(string format, int rate, int channels, int bits, int seconds = 10)
    {
        var pcm = new PcmFormat(new SampleRate(rate), channels, Math.Abs(bits), bits < 0 ? SampleKind.Float : SampleKind.Integer);
        bool lossless = format != "mp3";
        return new AudioFacts(
            FileFormats.Find(format), format.ToUpperInvariant(), pcm, (long)rate * seconds, lossless,
            lossless ? (int)(pcm.BitRate / 1000) : 192);
    }
}
