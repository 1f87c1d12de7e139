using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Reading;
using Wergamon.Demo.Rack;
using Wergamon.Devices.Catalogue;
using Wergamon.Devices.Drives;
using Wergamon.Testing;
using Wergamon.Testing.Outside;

namespace Wergamon.Demo.Tests;

/// <summary>The disc rack as the demo makes it.</summary>
public sealed class RackTests
{
    /// <summary>What careful reading proves of a demo disc, by either drive, is what the ledger says most others got.</summary>
    [Theory]
    [InlineData(0)]
    [InlineData(1)]
    public void Proved_checksums_equal_those_of_others(int drive)
    {
        var rack = new DiscRack(WebServer.DemoRack);
        var ledger = new FolderLedger(WebServer.DemoRack);
        int proved = 0;
        foreach (var album in RackAlbums.All.Where(album => album is { OtherReadings: > 0, Medley.Count: 0 }))
        {
            using var disc = rack.Take(album.Key)!;
            var known = ledger.Find(disc.Image.Contents);
            var reader = new CarefulReader(new SimulatedDrive(SimulatedTray.Usual[drive], disc, new VirtualTime()), new ReadingSettings());
            foreach (var span in TrackSpan.Of(disc.Image.Contents, Pauses.WithTrackBefore))
            {
                var reading = reader.Read(span, Stream.Null);
                bool isScratchedForGood = album.Faults.Any(
                    fault => fault.Kind == FaultKind.Never && fault.FirstFrame >= span.FirstFrame
                        && fault.FirstFrame < span.FirstFrame + span.Frames);
                Assert.Equal(
                    isScratchedForGood ? Verdict.Doubtful : reading.ReReads.Count > 0 ? Verdict.AgreedAfterReReads : Verdict.AgreedAtOnce,
                    reading.Verdict);
                if (!reading.IsProved)
                    continue;
                proved++;
                Assert.True(
                    known.Any(
                        other => other.Number == span.Number && other.Crc32 == reading.Crc32
                            && other.Readings == known.Where(same => same.Number == span.Number).Max(same => same.Readings)),
                    $"{album.Key}, track {span.Number}");
            }
        }

        Assert.True(proved >= 15);
    }

    [Fact]
    public void The_rack_covers_every_case_of_reading()
    {
        var rack = new DiscRack(WebServer.DemoRack);
        Assert.True(rack.List().Count >= 8);
        TableOfContents Contents(string key)
        {
            using var disc = rack.Take(key)!;
            return disc.Image.Contents;
        }

        Assert.True(Contents("02-counterweight").HiddenSectors > AudioDisc.MinTrackSectors);
        Assert.All(Contents("02-counterweight").Tracks.Skip(1), track => Assert.Equal(150, track.PauseSectors));
        Assert.All(Contents("03-one-night").Tracks, track => Assert.Equal(0, track.PauseSectors));
        var data = Contents("08-ropeway");
        Assert.Equal((false, 2), (data.Tracks[^1].IsAudio, data.Tracks[^1].Session));
        Assert.Equal(data.AudioEnd, data.EndOf(data.Tracks[^2]));
        Assert.InRange(new Msf(Contents("09-long-shift").LeadOut).Duration.TotalMinutes, 25, 80);
        using var named = rack.Take("04-hauling-songs")!;
        Assert.Equal(("Hauling Songs", "Brèche aux ardoises"), (named.Text.Album.Title, named.Text.Tracks[3].Title));
        Assert.True(DiscCodes.IsCatalogueNumber(named.Image.Contents.CatalogueNumber));
        Assert.All(named.Image.Contents.Tracks, track => Assert.NotNull(track.Isrc));
        // Its lead-in packs as read by libcdio 2.1.
        var outside = LibCdio.ReadPacks(File.ReadAllBytes(Path.Combine(WebServer.DemoRack, "04-hauling-songs.cdt")), 4);
        Assert.Equal(
            outside.Skip(1).Select(words => (words.Title, words.Performer)),
            named.Text.Tracks.OrderBy(pair => pair.Key).Select(pair => (pair.Value.Title, pair.Value.Performer)));
    }

    [Fact]
    public async Task The_catalogue_knows_one_several_or_no_album()
    {
        var rack = new DiscRack(WebServer.DemoRack);
        var catalogue = new FolderCatalogue(WebServer.DemoRack, TimeProvider.System);
        async Task<int> Found(string key)
        {
            using var disc = rack.Take(key)!;
            return (await catalogue.FindAsync(disc.Image.Contents, CancellationToken.None)).Count;
        }

        Assert.Equal(
            (1, 3, 0, 0),
            (await Found("01-lamp-room"), await Found("06-sampler"), await Found("07-white-disc"), await Found("04-hauling-songs")));
        catalogue.Mood = CatalogueMood.Wrong;
        await Assert.ThrowsAsync<CatalogueException>(() => Found("01-lamp-room"));
    }

    /// <summary>The images of the rack as libcdio 2.1 sees them; it does not handle a session gap that is in no file.</summary>
    [Theory]
    [InlineData("01-lamp-room")]
    [InlineData("02-counterweight")]
    [InlineData("03-one-night")]
    [InlineData("04-hauling-songs")]
    public void Images_of_the_rack_are_read_by_libcdio(string key)
    {
        using var disc = new DiscRack(WebServer.DemoRack).Take(key)!;
        using var outside = new LibCdio(Path.Combine(WebServer.DemoRack, key + ".cue"));
        var contents = disc.Image.Contents;
        Assert.Equal(
            outside.Tracks.Select(track => (track.Number, track.Start, track.Isrc)),
            contents.Tracks.Select(track => (track.Number, track.Start, track.Isrc)));
        Assert.Equal((outside.LeadOut, outside.CatalogueNumber), (contents.LeadOut, contents.CatalogueNumber));
        var sectors = new byte[40 * AudioDisc.BytesPerSector];
        foreach (int sector in new[] { 0, 700, contents.LeadOut - 40 })
        {
            disc.Image.Read(sector, sectors);
            Assert.Equal(outside.ReadAudio(sector, 40), sectors);
        }
    }

    /// <summary>The surround disc as libiso9660 reads it: the same files, byte for byte.</summary>
    [Fact]
    public void The_surround_disc_is_read_by_libiso9660()
    {
        using var disc = new DiscRack(WebServer.DemoRack).Take("10-nine-gates")!;
        using var outside = new LibIso9660(Path.Combine(WebServer.DemoRack, "10-nine-gates.iso"), byJoliet: true);
        Assert.Equal(
            [(1, 1, 48_000), (2, 2, 96_000), (3, 2, 48_000)],
            disc.Titles.Select(title => (title.Number, title.Parts.Count, title.PartFormat.Rate.Hertz)));
        Assert.All(disc.Titles, title => Assert.Equal((6, 24), (title.Channels, title.PartFormat.Bits)));
        Assert.Equal([true, false, false], disc.Titles.Select(title => title.HasStatedRoles));
        foreach (var part in disc.Titles.SelectMany(title => title.Parts))
        {
            using var bytes = new MemoryStream();
            disc.OpenFile(part.File).CopyTo(bytes);
            Assert.True(bytes.ToArray().AsSpan().SequenceEqual(outside.Read("/" + part.File.Path)));
        }
    }
}
