using System.Text.Json;
using Wergamon.App.Intake;
using Wergamon.App.Runs;
using Wergamon.App.Tracks;
using Wergamon.Core.Audio;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Iso9660;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Tags;
using Wergamon.Devices.Drives;
using Wergamon.Testing;
using Wergamon.Testing.Outside;

namespace Wergamon.App.Tests.Intake;

/// <summary>From a surround disc to stereo and to all channels.</summary>
public sealed class SurroundRipTests
{
    private const int Rate = 48_000;
    private const int Frames = 30_000;

    /// <summary>A full-scale tone in every channel, each with its own pitch, so that a misplaced channel shows.</summary>
    [Fact]
    public async Task A_split_title_becomes_six_channels_and_a_stereo_that_does_not_clip()
    {
        await using var app = new RunningApp();
        MakeDisc(app.Options.RackFolder);
        await app.StartAsync();
        Assert.Null(app.Get<DriveBay>().Insert("A", "surround"));
        await RunningApp.UntilAsync(() => app.Get<InsertedDiscs>().On("A") is { State: not LookUpState.Asking });
        var desk = app.Get<InsertedDiscs>();
        Assert.True(desk.On("A")!.IsSurround);
        desk.Rename(
            "A",
            new DiscAlbum
            {
                Artist = "Nine Gate Ensemble",
                Title = "In the Round",
                Disc = 2,
                DiscTotal = 2,
                Tracks = [new DiscTitle(7, "Full Scale")]
            });
        var rips = app.Get<DiscRips>();
        var choice = new SurroundChoice { MakesAllChannels = true };
        Assert.Null(rips.ChooseSurround("A", choice, app.Output));
        Assert.Contains("at least one title", rips.StartSurround("A", []), StringComparison.Ordinal);
        Assert.Null(rips.StartSurround("A", [7]));
        var items = await app.EndAsync(rips.RunOf(desk.On("A")!)!.Id);
        Assert.All(items, item => Assert.Equal(ItemState.Done, item.State));
        Assert.Equal(
            [
                "All channels/Nine Gate Ensemble/In the Round/2-07 Full Scale.flac",
                "Stereo/Nine Gate Ensemble/In the Round/2-07 Full Scale.flac"
            ],
            app.OutputFiles());

        var six = LibFlac.Decode(Path.Combine(app.Output, app.OutputFiles().First()));
        Assert.Equal((Rate, 6, 24), (six.Rate, six.Channels, six.Bits));
        for (int i = 0; i < six.Samples.Length; i++)
            Assert.Equal(Sample(i % 6, i / 6), six.Samples[i]);

        var stereo = LibFlac.Decode(Path.Combine(app.Output, app.OutputFiles().Last()));
        Assert.Equal((Rate, 2, 24, 2 * Frames), (stereo.Rate, stereo.Channels, stereo.Bits, stereo.Samples.Length));
        double gain = Math.Pow(
            10, items.Single(item => item.Spec().Fidelity == Core.Planning.Fidelity.Recalculated).Proof().FittingGainDecibels!.Value / 20);
        Assert.InRange(gain, 0.35, 0.6);
        double root = Math.Sqrt(0.5), scale = 1 << 23;
        int loudest = 0;
        for (int frame = 0; frame < Frames; frame++)
        {
            double left = gain * (Sample(0, frame) + root * Sample(2, frame) + root * Sample(4, frame)),
                right = gain * (Sample(1, frame) + root * Sample(2, frame) + root * Sample(5, frame));
            // Requantising to 24 bits with dither moves a sample by less than two steps.
            Assert.InRange(stereo.Samples[2 * frame] - left, -2, 2);
            Assert.InRange(stereo.Samples[2 * frame + 1] - right, -2, 2);
            loudest = Math.Max(loudest, Math.Max(Math.Abs(stereo.Samples[2 * frame]), Math.Abs(stereo.Samples[2 * frame + 1])));
        }

        Assert.InRange(loudest / scale, 0.99, 0.99999);
        Assert.Equal(0, items.Sum(item => item.Proof().ClippedSamples));
        var track = Assert.Single(app.Get<LibraryQueries>().TracksOfAlbum(Assert.Single(app.Get<LibraryQueries>().Albums()).Id));
        Assert.Equal((2, 6, 7, 2), (track.Copies.Count, track.Master.Sound.Channels, track.Number, track.Disc));
        var tags = app.Get<LibraryQueries>().TagsOf(track.Master.Id);
        Assert.Equal(("2", "2", "7"), (tags.First(FieldNames.Disc), tags.First(FieldNames.DiscTotal), tags.First(FieldNames.Track)));
    }

    [Fact]
    public async Task Two_channels_for_one_speaker_are_refused_with_a_reason()
    {
        await using var app = new RunningApp();
        MakeDisc(app.Options.RackFolder);
        await app.StartAsync();
        Assert.Null(app.Get<DriveBay>().Insert("A", "surround"));
        var rips = app.Get<DiscRips>();
        var roles = new[]
        {
            ChannelRoles.FrontLeft, ChannelRoles.FrontLeft, ChannelRoles.FrontCentre, ChannelRoles.LowFrequency, ChannelRoles.SideLeft,
            ChannelRoles.SideRight
        };
        Assert.Null(
            rips.ChooseSurround(
                "A", new SurroundChoice { Roles = new Dictionary<int, IReadOnlyList<ChannelRoles>> { [7] = roles } }, null));
        Assert.Contains("two channels for the same loudspeaker", rips.StartSurround("A", [7]), StringComparison.Ordinal);
        Assert.Null(rips.ChooseSurround("A", new SurroundChoice { MakesStereo = false }, null));
        Assert.Contains("Choose stereo", rips.StartSurround("A", [7]), StringComparison.Ordinal);
    }

    private static int Sample(int channel, int frame) =>
        (int)Math.Round(((1 << 23) - 1) * Math.Sin(2 * Math.PI * (300 + 170 * channel) * frame / Rate));

    private static void MakeDisc(string folder)
    {
        Directory.CreateDirectory(folder);
        var files = new[] { ("T07D2-FRONT.WAV", 0, 2), ("T07D2-REST.WAV", 2, 4) }.Select(part =>
        {
            var (name, first, channels) = part;
            var format = new PcmFormat(new SampleRate(Rate), channels, 24) { Roles = ChannelRoles.None };
            var bytes = new MemoryStream();
            new TestSound(format, Frames, (block, start) =>
            {
                for (int i = 0; i < block.Integers.Length; i++)
                    block.Integers[i] = Sample(first + i % channels, (int)start + i / channels);
            }).CopyTo(new WavWriter(bytes, format));
            return new IsoSource(name, bytes.Length, () => new MemoryStream(bytes.ToArray()));
        });
        using (var image = File.Create(Path.Combine(folder, "surround.iso")))
            IsoWriter.Write(image, "In the Round", [.. files], DateTimeOffset.UnixEpoch);
        File.WriteAllText(
            Path.Combine(folder, "surround.cue"), "FILE \"surround.iso\" BINARY\r\n  TRACK 01 MODE1/2048\r\n    INDEX 01 00:00:00\r\n");
        File.WriteAllText(
            Path.Combine(folder, "surround.json"), JsonSerializer.Serialize(new RackNote("Surround", "", []), RackJson.Default.RackNote));
    }
}
