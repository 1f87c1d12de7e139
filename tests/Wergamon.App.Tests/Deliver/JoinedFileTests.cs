using Dapper;
using Wergamon.App.Copies;
using Wergamon.App.Deliver;
using Wergamon.App.Deliver.Files;
using Wergamon.App.Runs;
using Wergamon.App.Tracks;
using Wergamon.Core.Discs;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;

namespace Wergamon.App.Tests.Deliver;

/// <summary>Tracks joined to one file, with a cue sheet and chapters.</summary>
public sealed class JoinedFileTests
{
    /// <summary>
    /// Lengths of whole sectors without gaps, and odd ones with gaps: cut at the times of the cue sheet, the parts are the tracks.
    /// </summary>
    [Theory]
    [InlineData(0, new[] { 2.0, 3.04, 2.52 })]
    [InlineData(1.5, new[] { 2.001, 3.0437, 2.5 })]
    public async Task Cut_at_the_times_of_its_cue_sheet_the_parts_are_the_tracks(double gap, double[] seconds)
    {
        await using var app = new RunningApp();
        var paths = seconds.Select((length, i) => app.AddTrack(i + 1, length)).ToList();
        long file = await PlanAsync(app);
        app.Get<JoinedFiles>()
            .SetSettings(
                file, new JoinedSettings { TargetKey = "plain", GapSeconds = gap, Folder = app.Output, Artist = "The Quarry Lamps" });
        var made = await MakeAsync(app, file);
        Assert.Equal(["Night Shift.cue", "Night Shift.wav"], app.OutputFiles());
        var samples = WavSamples.Of(made.Path);
        var sheet = CueSheetReader.Read(File.ReadAllBytes(Path.Combine(app.Output, "Night Shift.cue"))).Sheet;
        Assert.Equal(("Night Shift", "Night Shift.wav"), (sheet.Title, sheet.Files[0].Name));
        for (int i = 0; i < paths.Count; i++)
        {
            var track = WavSamples.Of(paths[i]);
            int start = sheet.Tracks[i].Indexes[0].Time.Sectors * AudioDisc.FramesPerSector * 2;
            Assert.Equal(track, samples.GetRange(start, track.Count));
            Assert.Equal((i + 1 < paths.Count, $"Track {i + 1}"), (start + track.Count < samples.Count, sheet.Tracks[i].Title));
        }

        using var stream = File.OpenRead(made.Path);
        var tags = FileReading.ReadTags(stream).Tags;
        var starts = app.Get<JoinedFiles>()
            .View(file)!.Lines.Select(line => TimeSpan.FromMilliseconds(Math.Round(line.Start!.Value.TotalMilliseconds)));
        Assert.Equal(starts, ChapterMark.Parse(tags[FieldNames.Chapters])!.Select(mark => mark.Start));
        // It is a file alone until the person wants it in the library.
        Assert.Equal(3, app.Get<LibraryQueries>().CountTracks());
    }

    /// <summary>A sheet of the person, and that of another file of the same name, stay what they are.</summary>
    [Fact]
    public async Task A_sheet_takes_the_place_of_no_other()
    {
        await using var app = new RunningApp();
        app.AddTrack(1, 2);
        app.AddTrack(2, 2.5);
        Directory.CreateDirectory(app.Output);
        File.WriteAllText(Path.Combine(app.Output, "Night Shift.cue"), "the person's own");
        long file = await PlanAsync(app);
        foreach (var target in (string[])["plain", "archive"])
        {
            app.Get<JoinedFiles>().SetSettings(file, new JoinedSettings { TargetKey = target, Folder = app.Output });
            await MakeAsync(app, file);
        }

        Assert.Equal(
            ["Night Shift (2).cue", "Night Shift (2).wav", "Night Shift (3).cue", "Night Shift (3).flac", "Night Shift.cue"],
            app.OutputFiles());
        Assert.Equal("the person's own", File.ReadAllText(Path.Combine(app.Output, "Night Shift.cue")));
        foreach (var (number, extension) in ((int, string)[])[(2, ".wav"), (3, ".flac")])
            Assert.Equal(
                $"Night Shift ({number}){extension}",
                CueSheetReader.Read(File.ReadAllBytes(Path.Combine(app.Output, $"Night Shift ({number}).cue"))).Sheet.Files[0].Name);
    }

    /// <summary>
    /// In every format that is written, with a crossfade, from sources of several rates: as long as was planned, as the proof has counted.
    /// </summary>
    [Fact]
    public async Task Every_format_has_the_planned_length()
    {
        await using var app = new RunningApp();
        app.AddTrack(1, 3.3);
        app.AddTrack(2, 4.1);
        long file = await PlanAsync(app);
        foreach (var format in FileFormats.Writable)
        {
            var target = app.Get<TargetChoices>().Add(new Target("", format.Name, format.UsualSettings));
            app.Get<JoinedFiles>()
                .SetSettings(file, new JoinedSettings { TargetKey = target, CrossfadeSeconds = 1.25, Folder = app.Output });
            var view = app.Get<JoinedFiles>().View(file)!;
            Assert.Equal(3.3 + 4.1 - 1.25, view.Duration.TotalSeconds, 4);
            Assert.Equal(2.05, view.Lines[1].Start!.Value.TotalSeconds, 4);
            var made = await MakeAsync(app, file);
            Assert.Equal(view.Whole!.OutputFrames, made.Proof.FramesOut);
        }
    }

    [Fact]
    public async Task A_joined_file_can_be_a_track_of_the_library()
    {
        await using var app = new RunningApp();
        app.AddTrack(1, 2);
        app.AddTrack(2, 2);
        long file = await PlanAsync(app);
        Assert.Equal("Nothing", app.Get<JoinedFiles>().View(file + 1) is null ? "Nothing" : "");
        app.Get<JoinedFiles>().SetSettings(file, new JoinedSettings { Folder = app.Output, IsInLibrary = true });
        await MakeAsync(app, file);
        Assert.Equal(3, app.Get<LibraryQueries>().CountTracks());
        // A server that ends before it has noted the end of the item does not make the file again; the cue sheet comes last.
        var made = app.OutputFiles().ToList();
        await app.StopAsync();
        File.Delete(Path.Combine(app.Output, "Night Shift.cue"));
        await app.StartAsync(database => database.Change(connection => connection.Execute(
            "UPDATE run_item SET state = 'working', checkpoint = json_object('version', 1, 'proof', json(result -> '$.proof')), result = "
                + "NULL WHERE kind = 'join-file'; UPDATE run SET state = 'running', ended_at = NULL")));
        Assert.Equal(ItemState.Done, Assert.Single(await app.EndAsync(1)).State);
        Assert.Equal(made, app.OutputFiles());
        Assert.Equal(3, app.Get<LibraryQueries>().CountTracks());
        app.Get<DeliveryStore>().Arrange(file, _ => []);
        Assert.Equal("There is nothing to join yet.", app.Get<JoinedFiles>().Start(file).Problem);
    }

    private static async Task<long> PlanAsync(RunningApp app)
    {
        await app.StartAsync();
        await app.ScanAsync();
        return app.Get<JoinedFiles>()
            .Create(
                null,
                [
                    .. app.Get<LibraryQueries>()
                        .TracksOfAlbum(Assert.Single(app.Get<LibraryQueries>().Albums()).Id)
                        .Select(track => track.Id)
                ]);
    }

    private static async Task<CopyResult> MakeAsync(RunningApp app, long file)
    {
        var (run, problem) = app.Get<JoinedFiles>().Start(file);
        Assert.Null(problem);
        return CopyResult.Of(Assert.Single(await app.EndAsync(run!.Value)))!;
    }
}
