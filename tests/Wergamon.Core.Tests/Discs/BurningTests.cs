using CsCheck;
using Wergamon.Core.Audio;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Burning;
using Wergamon.Testing;
using Wergamon.Testing.Outside;

namespace Wergamon.Core.Tests.Discs;

/// <summary>Audio discs that are laid out and written as images.</summary>
public sealed class BurningTests
{
    private const int Second = AudioDisc.SectorsPerSecond * AudioDisc.FramesPerSector;

    private static readonly PcmFormat Format = new(SampleRate.AudioDisc, 2, 16);

    private static readonly Gen<BurnOptions> Options = Gen.Select(
        Gen.Int[0, 4], Gen.Bool, (pause, isHidden) => new BurnOptions(pause * 37) { IsFirstHidden = isHidden });

    private static readonly Gen<BurnTrack[]> Tracks = Gen.Select(Gen.Int[1, 5 * Second], Gen.Int[-1, 30]).Array[2, 5]
        .Select(
            all =>
                all.Select(
                    (each, i) =>
                        new BurnTrack(each.Item1, $"Track {i}", "Slow Carbide")
                        {
                            PauseSectors = each.Item2 < 0 ? null : each.Item2
                        }).ToArray());

    /// <summary>
    /// Written, opened through its own cue sheet, and read: every sample of every track, in order, with nothing but silence beside it.
    /// </summary>
    [Fact]
    public void Every_sample_is_on_the_disc_once_and_in_order() => Gen.Select(Tracks, Options).Sample(
        (tracks, options) =>
        {
            var layout = DiscLayout.Of(tracks, options);
            var image = ImageOf(layout);
            Assert.Equal((long)layout.LeadOut * AudioDisc.BytesPerSector, image.Length);
            using var disc = DiscImage.Open(
                CueSheetReader.Read(
                    CueSheetWriter.Write(
                        DiscImageWriter.SheetOf(
                            layout.Contents(), DiscImageWriter.TextOf(layout, "Night", "Slow Carbide"), "disc.bin"))).Sheet,
                _ => new MemoryStream(image));
            var contents = layout.Contents();
            Assert.Equal(
                contents.Tracks.Select(track => (track.Number, track.PauseStart, track.Start)),
                disc.Contents.Tracks.Select(track => (track.Number, track.PauseStart, track.Start)));
            Assert.Equal((contents.LeadOut, contents.HiddenSectors), (disc.Contents.LeadOut, disc.Contents.HiddenSectors));
            int at = 0;
            foreach (var stretch in layout.Stretches)
            {
                int length = (int)stretch.Frames * AudioDisc.BytesPerFrame;
                var part = image.AsSpan(at, length);
                if (stretch.Track is { } track)
                    Assert.True(part.SequenceEqual(BytesOf(tracks[track], track)));
                else
                    Assert.False(part.ContainsAnyExcept((byte)0));
                at += length;
            }

            Assert.Equal(Enumerable.Range(0, tracks.Length), layout.Stretches.Select(stretch => stretch.Track).OfType<int>());
        },
        iter: 25);

    /// <summary>Tracks begin on the sector in which their first sample lies, and last at least four seconds (IEC 60908).</summary>
    [Fact]
    public void Tracks_keep_to_the_rules_of_the_disc() => Gen.Select(Tracks, Options).Sample((tracks, options) =>
    {
        var layout = DiscLayout.Of(tracks, options);
        Assert.All(
            layout.Tracks.Where(track => track.Number > 0),
            track => Assert.InRange(track.Sectors, AudioDisc.MinTrackSectors, int.MaxValue));
        // A track may end within its last sector; anything shorter is said.
        Assert.InRange(
            layout.Notes.Count,
            tracks.Skip(options.IsFirstHidden ? 1 : 0).Count(track => track.Frames <= 4 * Second - AudioDisc.FramesPerSector),
            tracks.Count(track => track.Frames < 4 * Second));
        for (int i = 1; i < tracks.Length; i++)
        {
            int pause = tracks[i].PauseSectors ?? options.PauseSectors;
            Assert.Equal(pause, layout.Tracks[i].Start - layout.Tracks[i].PauseStart);
            Assert.Equal(layout.Tracks[i - 1].End, layout.Tracks[i].PauseStart);
        }
    });

    [Fact]
    public void Without_pauses_the_next_track_completes_a_sector()
    {
        var layout = DiscLayout.Of(
            [
                new BurnTrack(10 * Second + 100, "One", ""), new BurnTrack(10 * Second + 500, "Two", ""),
                new BurnTrack(10 * Second, "Three", "")
            ],
            BurnOptions.Gapless);
        Assert.Equal([0, 750, 1501], layout.Tracks.Select(track => track.Start));
        // 30 s and 600 frames: two sectors more, the last one filled with silence.
        Assert.Equal(2252, layout.LeadOut);
        Assert.Equal(
            [
                new DiscStretch(0, 10 * Second + 100), new DiscStretch(1, 10 * Second + 500), new DiscStretch(2, 10 * Second),
                new DiscStretch(null, 576)
            ],
            layout.Stretches);
        Assert.Empty(layout.Notes);
    }

    [Theory]
    [InlineData(79 * 60 + 57, 1, true)]
    [InlineData(80 * 60 + 1, 1, false)]
    [InlineData(40 * 60, 99, true)]
    [InlineData(40 * 60, 100, false)]
    public void Capacity_of_an_80_minute_disc(int seconds, int count, bool fits)
    {
        var layout = DiscLayout.Of(
            [.. Enumerable.Range(0, count).Select(i => new BurnTrack((long)seconds * Second / count, $"Track {i}", ""))],
            BurnOptions.Gapless);
        var problem = layout.ProblemFor(DiscBlank.Minutes80);
        Assert.Equal(fits, problem is null);
        if (count == 100)
            Assert.StartsWith("A disc has at most 99 tracks", problem, StringComparison.Ordinal);
        else if (!fits)
            Assert.Contains("This is 80:01 long and the disc has room for 79:58", problem, StringComparison.Ordinal);
    }

    [Fact]
    public void A_short_track_is_lengthened_and_said()
    {
        var layout = DiscLayout.Of(
            [new BurnTrack((long)(3.9 * Second), "Blast", ""), new BurnTrack(5 * Second, "Echo", "")], BurnOptions.WithPauses);
        Assert.Equal("“Blast” is 3.9 s long. A track on a disc lasts at least 4 s, so silence is added.", Assert.Single(layout.Notes));
        Assert.Equal((300, 450), (layout.Tracks[0].End, layout.Tracks[1].Start));
    }

    /// <summary>Albums of any lengths: nothing is lost, each disc fits, and an album is torn only where it began with its disc.</summary>
    [Fact]
    public void Discs_are_split_between_albums() => Gen.Select(Gen.Int[1, 900], Gen.Int[0, 3]).Array[1, 30].Sample(all =>
    {
        var blank = new DiscBlank("small", 1200 * AudioDisc.SectorsPerSecond);
        int album = 0;
        var tracks = all.Select(
            each => new BurnTrack((long)each.Item1 * Second, "", "") { Album = $"Album {(album += each.Item2 == 0 ? 1 : 0)}" }).ToList();
        var discs = DiscSplit.Over(tracks, BurnOptions.Gapless, blank);
        Assert.Equal(tracks.Count, discs.Sum());
        int from = 0;
        foreach (int count in discs)
        {
            var part = tracks.Skip(from).Take(count).ToList();
            Assert.Null(DiscLayout.Of(part, BurnOptions.Gapless).ProblemFor(blank));
            bool isTorn = from + count < tracks.Count && tracks[from + count].Album == part[^1].Album;
            Assert.True(!isTorn || part[0].Album == part[^1].Album);
            from += count;
        }

        var gone = DiscSplit.ToLeaveOut(tracks, BurnOptions.Gapless, blank);
        var rest = tracks.Where((_, place) => !gone.Contains(place)).ToList();
        Assert.True(rest.Count == 0 || DiscLayout.Of(rest, BurnOptions.Gapless).ProblemFor(blank) is null);
    });

    [Fact]
    public void A_track_longer_than_a_disc_cannot_be_split() =>
        Assert.Empty(DiscSplit.Over([new BurnTrack(5000L * Second, "", "")], BurnOptions.Gapless, DiscBlank.Minutes80));

    /// <summary>What libcdio 2.1 makes of our image: tracks, sectors, text, ISRC and catalogue number.</summary>
    [Fact]
    public void Libcdio_reads_our_image_as_it_was_planned()
    {
        using var folder = new TemporaryFolder();
        BurnTrack[] tracks =
        [
            new(6 * Second + 17, "Slatebreaker", "The Quarry Lamps") { Isrc = "ZZLQ12100001" },
            new(5 * Second + 400, "Headframe", "Wickwire") { Isrc = "ZZ-LQ1-21-00002" },
            new(4 * Second, "Spent Lime", "The Quarry Lamps") { PauseSectors = 75 },
        ];
        var layout = DiscLayout.Of(tracks, BurnOptions.Gapless);
        File.WriteAllBytes(folder["disc.bin"], ImageOf(layout));
        File.WriteAllBytes(
            folder["disc.cue"],
            CueSheetWriter.WriteBytes(
                DiscImageWriter.SheetOf(
                    layout.Contents("4006381333931"), DiscImageWriter.TextOf(layout, "Night Shift", "The Quarry Lamps"), "disc.bin")));
        using var outside = new LibCdio(folder["disc.cue"]);
        Assert.Equal(
            layout.Tracks.Select(track => (track.Number, true, track.Start)),
            outside.Tracks.Select(track => (track.Number, track.IsAudio, track.Start)));
        Assert.Equal(tracks.Select(track => (track.Title, track.Artist)), outside.Tracks.Select(track => (track.Title!, track.Performer!)));
        Assert.Equal(["ZZLQ12100001", "ZZLQ12100002"], outside.Tracks.Take(2).Select(track => track.Isrc));
        Assert.Equal((layout.LeadOut, "4006381333931", "Night Shift"), (outside.LeadOut, outside.CatalogueNumber, outside.AlbumTitle));
        Assert.Equal(BytesOf(tracks[0], 0)[..(10 * AudioDisc.BytesPerSector)], outside.ReadAudio(0, 10));
        var (packs, count) = (
            DiscTextPacks.Write(DiscImageWriter.TextOf(layout, "Night Shift", "The Quarry Lamps"), tracks.Length), tracks.Length);
        Assert.Equal(tracks.Select(track => track.Title), LibCdio.ReadPacks(packs, count).Skip(1).Select(text => text.Title));
    }

    [Theory]
    [InlineData(-1)]
    [InlineData(1)]
    public void File_of_unplanned_length_ends_the_writing(int more)
    {
        var layout = DiscLayout.Of([new BurnTrack(5 * Second, "Adit", "")], BurnOptions.Gapless);
        var failure = Assert.Throws<UnreadableAudioException>(
            () => DiscImageWriter.WriteSectors(layout, _ => TestSound.Noise(Format, 5 * Second + more), _ => { }, _ => { }));
        Assert.Contains("Adit", failure.Message, StringComparison.Ordinal);
    }

    /// <summary>The lead-in has room for 256 packs of twelve bytes: the longest texts are shortened, none is lost.</summary>
    [Fact]
    public void Text_that_the_lead_in_cannot_hold_is_shortened()
    {
        var layout = DiscLayout.Of(
            [
                .. Enumerable.Range(1, 99)
                    .Select(
                        number =>
                            new BurnTrack(
                                4 * Second, number % 2 == 0 ? $"Nº {number}" : $"{number:00} Long Way Down the Incline",
                                "The Quarry Lamps"))
            ],
            BurnOptions.Gapless);
        var text = DiscImageWriter.TextOf(layout, "Night Shift", "The Quarry Lamps");
        Assert.InRange(DiscTextPacks.Write(text, 99).Length, 250 * DiscTextPacks.PackLength, 256 * DiscTextPacks.PackLength);
        var written = DiscTextPacks.AsWritten(text, 99);
        Assert.Equal(99, written.Tracks.Count);
        Assert.All(written.Tracks, track => Assert.StartsWith(track.Value.Title!, text.Tracks[track.Key].Title, StringComparison.Ordinal));
        Assert.Equal("Nº 98", written.Tracks[98].Title);
        Assert.All(written.Tracks.Values, entry => Assert.Equal("The Quarry Lamps", entry.Performer));
    }

    /// <summary>Sums taken while writing, in blocks of any size, are those of the spans.</summary>
    [Fact]
    public void Sums_of_tracks_do_not_depend_on_blocks() => Gen.Select(
        Gen.Int[1, 4].Array[1, 6], Gen.Int[1, 9000]).Sample((sectors, block) =>
    {
        int at = 0;
        var spans = sectors.Select((count, i) => new TrackSpan(i, at, at += count)).ToList();
        var bytes = new byte[at * AudioDisc.BytesPerSector];
        new Random(block).NextBytes(bytes);
        var sums = new TrackSums(spans);
        for (int from = 0; from < bytes.Length; from += block)
            sums.Append(bytes.AsSpan(from, Math.Min(block, bytes.Length - from)));
        Assert.Equal(
            spans.Select(
                span =>
                    System.IO.Hashing.Crc32.HashToUInt32(
                        bytes.AsSpan(span.FirstSector * AudioDisc.BytesPerSector, span.Sectors * AudioDisc.BytesPerSector))),
            sums.Sums);
    });

    private static byte[] ImageOf(DiscLayout layout)
    {
        using var image = new MemoryStream();
        DiscImageWriter.WriteSectors(
            layout, track => TestSound.Noise(Format, layout.Source[track].Frames, track + 1), image.Write, _ => { });
        return image.ToArray();
    }

    private static byte[] BytesOf(BurnTrack track, int seed)
    {
        var bytes = new byte[track.Frames * AudioDisc.BytesPerFrame];
        var block = new SampleBuffer(Format);
        int at = 0;
        for (var sound = TestSound.Noise(Format, track.Frames, seed + 1); sound.Read(block) > 0;)
            at += PcmPacking.Wav.Pack(block, bytes.AsSpan(at));
        return bytes;
    }
}
