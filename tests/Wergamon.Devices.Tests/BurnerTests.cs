using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Reading;
using Wergamon.Devices.Burners;
using Wergamon.Devices.Drives;
using Wergamon.Testing;

namespace Wergamon.Devices.Tests;

/// <summary>What a burner does to a disc, and what drives read of it afterwards.</summary>
public sealed class BurnerTests : IDisposable
{
    private const int Sectors = 900;

    private readonly TemporaryFolder _folder = new();
    private readonly ManualTime _clock = new();
    private readonly SimulatedBurner _burner, _old;
    private readonly TestDisc _sound = new([400, 500], TestDisc.Noise(3));

    public BurnerTests() => (_burner, _old) = (New(0), New(1));

    private static TableOfContents Contents { get; } = new(
        [new DiscTrack(1, true, 0) { Isrc = "ZZLQ12100001" }, new DiscTrack(2, true, 400) { PauseStart = 380, MoreIndexes = [600] }],
        Sectors)
    { CatalogueNumber = "4006381333931" };

    private static BurnOrder Order { get; } = new(
        "Night Shift", Contents,
        new DiscText(
            new DiscTextEntry { Title = "Night Shift" }, new Dictionary<int, DiscTextEntry> { [2] = new() { Title = "Förderturm" } }),
        8);

    [Fact]
    public void Burned_disc_reads_back_equal()
    {
        _burner.Insert(Blank("blank-80"));
        Burn(_burner, Order);
        Assert.False(_burner.Disc!.CanBeWritten);
        var listed = Assert.Single(new DiscRack(_folder.Path).List());
        Assert.Equal(("Night Shift", "blank-80"), (listed.Label, listed.BlankKey));
        using var disc = new DiscRack(_folder.Path).Take(listed.Key)!;
        Assert.Equal(
            Contents.Tracks.Select(track => (track.Start, track.PauseStart, track.Isrc, string.Join(' ', track.MoreIndexes))),
            disc.Image.Contents.Tracks.Select(track => (track.Start, track.PauseStart, track.Isrc, string.Join(' ', track.MoreIndexes))));
        Assert.Equal(
            (Sectors, "4006381333931", "Night Shift", "Förderturm"),
            (disc.Image.Contents.LeadOut, disc.Image.Contents.CatalogueNumber, disc.Text.Album.Title, disc.Text.Tracks[2].Title));
        var read = new byte[Sectors * AudioDisc.BytesPerSector];
        disc.Image.Read(0, read);
        Assert.True(read.AsSpan().SequenceEqual(Bytes()));
        Assert.Equal([Verdict.AgreedAtOnce, Verdict.AgreedAtOnce], Verdicts());
    }

    [Fact]
    public void A_trial_leaves_the_disc_blank()
    {
        _burner.Insert(Blank("bent-80"));
        Burn(_burner, Order with { IsTrial = true });
        Assert.True(_burner.Disc!.CanBeWritten);
        Assert.Empty(Directory.GetFiles(_folder.Path));
    }

    /// <summary>The source keeps the burner waiting for longer than its buffer lasts: 430 sectors at 8 times are 0.72 s.</summary>
    [Theory]
    [InlineData(0.7, false)]
    [InlineData(0.75, true)]
    public void A_burner_that_cannot_wait_runs_empty(double seconds, bool runsEmpty)
    {
        _old.Insert(Blank("blank-74"));
        void Late() => Burn(_old, Order, at: 300, () => _clock.Advance(TimeSpan.FromSeconds(seconds)));
        if (!runsEmpty)
        {
            Late();
            Assert.Equal("Night Shift", _old.Disc!.Label);
            return;
        }

        var failure = Assert.Throws<BurnFailedException>(Late);
        Assert.Equal(
            ("The buffer of Burner D ran empty at 0:04: the sound came too slowly. Burn at a lower speed.", true),
            (failure.Message, failure.IsDiscSpoiled));
        Assert.False(_old.Disc!.CanBeWritten);
        Assert.Empty(Directory.GetFiles(_folder.Path));
    }

    [Fact]
    public void A_burner_that_can_wait_says_how_often_it_did()
    {
        _burner.Insert(Blank("blank-80"));
        Assert.Equal(1, Burn(_burner, Order, at: 300, () => _clock.Advance(TimeSpan.FromMinutes(1))));
    }

    [Fact]
    public void Disc_removed_while_burning_is_spoiled()
    {
        _burner.Insert(Blank("blank-80"));
        var failure = Assert.Throws<BurnFailedException>(() => Burn(_burner, Order, at: 150, _burner.Eject));
        Assert.Equal(("The disc was taken out of Burner C at 0:02.", true), (failure.Message, failure.IsDiscSpoiled));
        Assert.Null(_burner.Disc);
        Assert.Empty(Directory.GetFiles(_folder.Path));
    }

    [Fact]
    public void A_bent_disc_fails_in_the_middle_and_a_shortened_one_at_the_end()
    {
        _burner.Insert(Blank("bent-80") with { FailsAt = 450 });
        Assert.Contains(
            "could not follow the groove of the disc at 0:06", Assert.Throws<BurnFailedException>(() => Burn(_burner, Order)).Message,
            StringComparison.Ordinal);
        Assert.Equal("Writing ended at 0:06.", _burner.Disc!.Spoiled);
        Assert.Contains("spoiled", Assert.Throws<BurnFailedException>(() => _burner.Begin(Order)).Message, StringComparison.Ordinal);
        _burner.Insert(Blank("blank-80"));
        using var session = _burner.Begin(Order);
        session.Write(Bytes().AsSpan(0, 100));
        Assert.Throws<BurnFailedException>(() => session.Finish());
    }

    [Fact]
    public void Bad_places_of_a_blank_read_back_wrong()
    {
        _burner.Insert(Blank("worn-80"));
        Burn(_burner, Order);
        Assert.Equal([Verdict.Doubtful, Verdict.AgreedAtOnce], Verdicts());
    }

    [Fact]
    public void A_rewritable_disc_is_erased_and_written_again()
    {
        _burner.Insert(Blank("rewritable-80"));
        Burn(_burner, Order);
        Burn(_burner, Order with { Label = "Second" });
        Assert.Equal("Second", Assert.Single(new DiscRack(_folder.Path).List()).Label);
    }

    [Fact]
    public void A_disc_that_was_left_open_is_read_by_drives_once_it_is_closed()
    {
        _burner.Insert(Blank("blank-80"));
        Burn(_burner, Order with { ClosesDisc = false });
        var rack = new DiscRack(_folder.Path);
        var key = rack.List()[0].Key;
        Assert.Contains("left open", Assert.Throws<UnreadableDiscException>(() => rack.Take(key)).Message, StringComparison.Ordinal);
        Assert.Equal(Verdict.AgreedAtOnce, Verdicts()[0]);
        _burner.Close();
        using var disc = rack.Take(key);
        Assert.NotNull(disc);
    }

    [Fact]
    public void Burner_refuses_short_discs_and_unknown_speeds()
    {
        Assert.Throws<BurnFailedException>(() => _burner.Begin(Order));
        _burner.Insert(Blank("blank-74"));
        Assert.Throws<BurnFailedException>(() => _burner.Begin(Order with { Speed = 7 }));
        Assert.Throws<BurnFailedException>(() => _burner.Begin(Order with { Contents = Contents with { LeadOut = 340_000 } }));
        Assert.True(_burner.Disc!.CanBeWritten);
    }

    public void Dispose()
    {
        _burner.Dispose();
        _old.Dispose();
        _folder.Dispose();
    }

    private static BlankDisc Blank(string key) => BlankDisc.Shelf.Single(blank => blank.Key == key);

    private SimulatedBurner New(int index) =>
        new(SimulatedBurner.Usual[index].Name[^1..], SimulatedBurner.Usual[index], _folder.Path, new VirtualTime(), _clock);

    private byte[] Bytes() => System.Runtime.InteropServices.MemoryMarshal.AsBytes(_sound.Frames).ToArray();

    private int Burn(SimulatedBurner burner, BurnOrder order, int at = -1, Action? happens = null)
    {
        using var session = burner.Begin(order);
        var bytes = Bytes();
        for (int sector = 0; sector < Sectors; sector += 10)
        {
            session.Write(bytes.AsSpan(sector * AudioDisc.BytesPerSector, 10 * AudioDisc.BytesPerSector));
            if (sector + 10 == at)
                happens!();
        }

        return session.Finish();
    }

    private List<Verdict> Verdicts()
    {
        var drive = _burner.Open();
        var reader = new CarefulReader(drive, new ReadingSettings { MaxReadings = 8 });
        return [.. TrackSpan.Of(drive.Contents, Pauses.WithTrackBefore).Select(span => reader.Read(span, Stream.Null).Verdict)];
    }
}
