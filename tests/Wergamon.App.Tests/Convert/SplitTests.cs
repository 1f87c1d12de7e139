using Wergamon.App.Convert;
using Wergamon.App.Runs;
using Wergamon.App.Tracks;
using Wergamon.Codecs;
using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Steps;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Formats.Mp3;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;
using Wergamon.Testing;

namespace Wergamon.App.Tests.Convert;

/// <summary>Long files split into tracks, tracks joined into one file, ends trimmed and faded.</summary>
public sealed class SplitTests
{
    private static readonly PcmFormat Format = new(SampleRate.AudioDisc, 2, 16);

    /// <summary>A long file becomes the tracks of the cue sheet beside it, and these, joined, give back every sample.</summary>
    [Fact]
    public async Task A_file_is_split_by_its_cue_sheet_and_joined_again()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        const int Frames = 500_000;
        WriteWav(app, "Night.wav", TestSound.Noise(Format, Frames));
        File.WriteAllText(
            Path.Combine(app.Music, "night at the pit.cue"),
            """
            PERFORMER "Tin Orchard"
            TITLE "Night at the Pit"
            FILE "NIGHT.flac" WAVE
              TRACK 01 AUDIO
                TITLE "Cage"
                INDEX 01 00:00:00
              TRACK 02 AUDIO
                TITLE "Winch"
                INDEX 01 00:03:11
              TRACK 03 AUDIO
                TITLE "Adit"
                INDEX 01 00:07:40
            """);
        await app.ScanAsync();
        var (plans, splits) = (app.Get<Plans>(), app.Get<TrackSplits>());
        long plan = app.Plan("archive");
        var found = Assert.Single(splits.Find(Assert.Single(plans.View(plan)!.Lines)));
        Assert.Equal(("night at the pit.cue", 3), (found.Source, found.Parts));
        Assert.Null(splits.SplitByFound(plan, 0, found.Key, onSectors: false));
        var view = plans.View(plan)!;
        Assert.Equal(
            ["0:00 to 0:03.147, FLAC 16-bit", "0:03.147 to 0:07.533, FLAC 16-bit", "0:07.533 to 0:11.338, FLAC 16-bit"],
            view.Lines.Select(line => line.Planned!.Route.InWords));
        Assert.All(view.Lines, line => Assert.Equal(Fidelity.Exact, line.Planned!.Route.Fidelity));
        Assert.NotNull(splits.SplitByFound(plan, 0, found.Key, onSectors: false));
        Assert.Contains("cannot be kept", app.Get<Mirrors>().Keep(plan).Refusal, StringComparison.Ordinal);
        Assert.All(await app.EndAsync(app.Run(plan)), item => Assert.Equal(ItemState.Done, item.State));
        Assert.Equal(
            [
                "Tin Orchard/Night at the Pit/01 Cage.flac", "Tin Orchard/Night at the Pit/02 Winch.flac",
                "Tin Orchard/Night at the Pit/03 Adit.flac"
            ],
            app.OutputFiles());
        Assert.Equal(((3L * 75) + 11) * 588, Samples(Path.Combine(app.Output, app.OutputFiles().First())).Count / 2);
        Assert.Equal(
            Samples(Path.Combine(app.Music, "Night.wav")), app.OutputFiles().SelectMany(file => Samples(Path.Combine(app.Output, file))));

        // Each part is a track of its own, whose lineage leads to the long file.
        var albums = app.Get<LibraryQueries>().Albums();
        var parts = app.Get<LibraryQueries>()
            .TracksOfAlbum(albums.Single(album => album.Title == "Night at the Pit" && album.Tracks == 3).Id);
        long joined = plans.Create("Joined", "archive", [.. parts.Select(track => track.Id)]);
        Assert.Null(plans.SetOutputFolder(joined, app.Output));
        Assert.Null(splits.Join(joined, [0, 1, 2]));
        var line = Assert.Single(plans.View(joined)!.Lines);
        Assert.Equal("3 joined, FLAC 16-bit", line.Planned!.Route.InWords);
        splits.Undo(joined, 0);
        Assert.Equal(["Cage", "Winch", "Adit"], plans.View(joined)!.Lines.Select(each => each.Title));
        Assert.Null(splits.Join(joined, [0, 1, 2]));
        Assert.Equal(ItemState.Done, Assert.Single(await app.EndAsync(app.Run(joined))).State);
        var whole = Path.Combine(app.Output, "Tin Orchard", "Night at the Pit", "Night at the Pit.flac");
        Assert.Equal(Samples(Path.Combine(app.Music, "Night.wav")), Samples(whole));
        using var stream = File.OpenRead(whole);
        Assert.Equal(
            ["00:00:00.000 Cage", "00:00:03.147 Winch", "00:00:07.533 Adit"], FileReading.ReadTags(stream).Tags[FieldNames.Chapters]);
    }

    [Fact]
    public async Task Split_marks_are_typed_aligned_to_sectors_and_undone()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        WriteWav(app, "Night.wav", TestSound.Noise(Format, 300_000));
        await app.ScanAsync();
        var (plans, splits) = (app.Get<Plans>(), app.Get<TrackSplits>());
        long plan = app.Plan("archive");
        Assert.Contains("does not begin with a time", splits.SplitAt(plan, 0, "soon", onSectors: true), StringComparison.Ordinal);
        Assert.Contains("No mark is within the file", splits.SplitAt(plan, 0, "9:00", onSectors: true), StringComparison.Ordinal);
        Assert.Null(splits.SplitAt(plan, 0, "0:02.005 The Long Adit\n0:04.5", onSectors: true));
        var lines = plans.View(plan)!.Lines;
        Assert.Equal(["Night, part 1", "The Long Adit", "Night, part 3"], lines.Select(line => line.Title));
        Assert.All(lines, line => Assert.Equal(0, line.Part!.Range.Start % 588));
        Assert.Equal(300_000, lines.Sum(line => line.Planned!.Source.Facts.FrameCount));
        splits.Undo(plan, 1);
        Assert.Equal("Night", Assert.Single(plans.View(plan)!.Lines).Title);
    }

    /// <summary>
    /// Silence goes at both ends and nowhere else; lossy sources, whose length only decoding tells, fade to their very end.
    /// </summary>
    [Fact]
    public async Task Ends_are_trimmed_and_faded()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        const int Before = 1_000, Sound = 100_000, After = 30_000;
        WriteWav(app, "Night.wav", new TestSound(Format, Before + Sound + After, (block, start) =>
        {
            for (int i = 0; i < block.Integers.Length; i++)
                block.Integers[i] = start + i / 2 is >= Before and < Before + Sound and not (> 40_000 and < 50_000) ? 10_000 : 0;
        }));
        await app.ScanAsync();
        var plans = app.Get<Plans>();
        long plan = app.Plan("archive");
        plans.SetTarget(plan, new Target("archive", "Archive", new FlacSettings()) { TrimsSilence = true });
        Assert.Equal("silence trimmed, FLAC 16-bit", plans.View(plan)!.Lines[0].Planned!.Route.InWords);
        await app.EndAsync(app.Run(plan));
        Assert.Equal(
            Samples(Path.Combine(app.Music, "Night.wav")).Skip(2 * Before).Take(2 * Sound),
            Samples(Path.Combine(app.Output, app.OutputFiles().First())));

        plan = app.Plan("archive");
        plans.SetTarget(
            plan,
            new Target("archive", "Archive", new WavSettings())
            {
                TrimsSilence = true,
                Fade = new FadeTimes(TimeSpan.FromSeconds(0.5), TimeSpan.FromSeconds(1)),
                Dither = Dither.None
            });
        await app.EndAsync(app.Run(plan));
        var faded = Samples(Path.Combine(app.Output, app.OutputFiles().Single(file => file.EndsWith(".wav", StringComparison.Ordinal))));
        Assert.Equal(2 * Sound, faded.Count);
        Assert.Equal((0, 10_000, 0), (faded[0], faded[^(2 * 44_200)], faded[^1]));
        Assert.InRange(faded[22_050], 4_995, 5_005);

        plan = app.Plan("archive");
        plans.SetTarget(
            plan,
            new Target("player", "Player", Mp3Settings.Constant(128)) { Fade = new FadeTimes(TimeSpan.Zero, TimeSpan.FromSeconds(1)) });
        Assert.Equal(ItemState.Done, Assert.Single(await app.EndAsync(app.Run(plan))).State);
    }

    /// <summary>A track of nothing but zeros is not made into an empty file.</summary>
    [Fact]
    public async Task Pure_silence_is_reported()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        WriteWav(app, "Night.wav", new TestSound(Format, 50_000, (block, _) => block.Integers.Clear()));
        await app.ScanAsync();
        long plan = app.Plan("archive");
        app.Get<Plans>().SetTarget(plan, new Target("archive", "Archive", new FlacSettings()) { TrimsSilence = true });
        var item = Assert.Single(await app.EndAsync(app.Run(plan)));
        Assert.Contains("digital silence", item.Failure, StringComparison.Ordinal);
        Assert.Empty(app.OutputFiles());
    }

    private static void WriteWav(RunningApp app, string name, IPcmReader sound)
    {
        using var writer = new WavWriter(File.Create(Path.Combine(app.Music, name)), Format);
        sound.CopyTo(writer);
    }

    private static List<int> Samples(string path)
    {
        using var reader = AudioFiles.Open(path);
        var all = new List<int>();
        var block = new SampleBuffer(reader.Format);
        while (reader.Read(block) > 0)
            all.AddRange(block.Integers);
        return all;
    }
}
