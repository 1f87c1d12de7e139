using Dapper;
using Wergamon.App.Library.Scan;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.App.Tags;
using Wergamon.App.Tracks;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Tags;

namespace Wergamon.App.Tests.Tags;

/// <summary>
/// An edit with a new name that ends between any two of its steps: the file is found under the name that it has, and the edit is
/// finished and can be undone.
/// </summary>
public sealed class InterruptedRenameTests
{
    /// <summary>Tables that the steps after the rename write to; a trigger lets the step fail.</summary>
    private static readonly string[] Steps = [
        "INSERT ON file_change", "UPDATE OF path ON copy", "UPDATE OF is_done ON tag_undo", "UPDATE OF state ON run_item"
    ];

    public static TheoryData<string, bool, bool, bool> Cases()
    {
        var cases = new TheoryData<string, bool, bool, bool>();
        foreach (var step in Steps)
        {
            cases.Add(step, false, false, false);
            cases.Add(step, true, false, true);
            cases.Add(step, true, true, false);
        }

        return cases;
    }

    /// <param name="step">Where it ends the first time.</param>
    /// <param name="withTags">True when tags are written, too.</param>
    /// <param name="isUndo">True when the undo is what ends early.</param>
    /// <param name="isKilled">True when the server ends there and starts again; otherwise the item fails and is retried.</param>
    [Theory]
    [MemberData(nameof(Cases))]
    public async Task Interrupted_rename_is_finished_and_can_be_undone(string step, bool withTags, bool isUndo, bool isKilled)
    {
        await using var app = new RunningApp();
        var path = app.AddTrack(1, 1);
        await app.StartAsync();
        await app.ScanAsync();
        var (before, wanted) = (File.ReadAllBytes(path), Path.Combine(app.Music, "Night Shift", "01 Lamp.wav"));
        var (sheet, copy) = Open(app);
        if (withTags)
            app.Get<TagSheets>().SetFields(sheet, [(copy, FieldNames.Title, ["Lamp"])]);
        app.Get<TagSheets>().SetNames(sheet, [(copy, wanted)]);
        long run;
        if (isUndo)
        {
            long write = app.Get<TagRuns>().Write(sheet, allCopies: false)!.Value;
            await app.EndAsync(write);
            run = await InterruptAsync(app, step, isKilled, () => app.Get<TagRuns>().Undo(write)!.Value);
        }
        else
        {
            run = await InterruptAsync(app, step, isKilled, () => app.Get<TagRuns>().Write(sheet, allCopies: false)!.Value);
        }

        var item = Assert.Single(await app.EndAsync(run));
        Assert.Equal((ItemState.Done, null), (item.State, item.Failure));
        Check(isUndo ? path : wanted);
        if (!isUndo)
        {
            await app.EndAsync(app.Get<TagRuns>().Undo(run)!.Value);
            Check(path);
        }

        Assert.Equal(before, File.ReadAllBytes(path));
        Assert.Empty(Directory.EnumerateFiles(app.Music, ".wergamon-*", SearchOption.AllDirectories));

        void Check(string place)
        {
            Assert.Equal([place], Directory.EnumerateFiles(app.Music, "*", SearchOption.AllDirectories));
            using var connection = app.Get<Database>().Open();
            Assert.Equal([(copy, place)], connection.Query<(long, string)>("SELECT id, path FROM copy"));
            using var stream = File.OpenRead(place);
            Assert.Equal(withTags && place == wanted ? "Lamp" : "Track 1", FileReading.ReadTags(stream).Tags.First(FieldNames.Title));
            Assert.Empty(connection.Query<string>("SELECT kind FROM file_change"));
        }
    }

    private static (long Sheet, long CopyId) Open(RunningApp app)
    {
        var album = Assert.Single(app.Get<LibraryQueries>().Albums());
        long copy = Assert.Single(app.Get<LibraryQueries>().TracksOfAlbum(album.Id)).Master.Id;
        return (app.Get<TagSheets>().Create(album.Title, [copy]), copy);
    }

    /// <summary>Lets a run fail at a step, and then either retries it or starts the server again as if it had been killed there.</summary>
    private static async Task<long> InterruptAsync(RunningApp app, string step, bool isKilled, Func<long> start)
    {
        await app.Get<RunScheduler>().StopAsync(CancellationToken.None);
        long run = start();
        Change(
            app,
            $"CREATE TRIGGER interrupt BEFORE {step} "
                + $"{(step.EndsWith("run_item", StringComparison.Ordinal) ? "WHEN NEW.state = 'done'" : "")} BEGIN "
                + "SELECT RAISE(ABORT, 'interrupted'); END");
        await app.Get<RunScheduler>().StartAsync(CancellationToken.None);
        await RunningApp.UntilAsync(
            () => app.Get<RunStore>().Get(run)!.State == RunState.Done
                || app.Get<RunStore>().Items(run).Any(item => item.State == ItemState.Working && Finished(app)));
        Change(app, "DROP TRIGGER interrupt");
        if (!isKilled && app.Get<RunStore>().Get(run)!.State == RunState.Done)
        {
            app.Get<RunScheduler>().Retry(run);
            return run;
        }

        await app.StopAsync();
        await app.StartAsync(database => database.Change(connection =>
        {
            connection.Execute("UPDATE run_item SET state = 'working', failure = NULL WHERE run_id = @run", new { run });
            connection.Execute("UPDATE run SET state = 'running', ended_at = NULL WHERE id = @run", new { run });
        }));
        app.Get<MusicFolders>().RescanAll();
        return run;
    }

    /// <summary>True when everything is recorded but the end of the item.</summary>
    private static bool Finished(RunningApp app)
    {
        using var connection = app.Get<Database>().Open();
        return connection.ExecuteScalar<bool>("SELECT EXISTS (SELECT 1 FROM tag_undo WHERE is_done)");
    }

    private static void Change(RunningApp app, string sql) => app.Get<Database>().Change(connection => connection.Execute(sql));
}
