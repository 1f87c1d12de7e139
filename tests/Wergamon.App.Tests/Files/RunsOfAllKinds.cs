using Dapper;
using Wergamon.App.Bench;
using Wergamon.App.Convert;
using Wergamon.App.Copies;
using Wergamon.App.Deliver;
using Wergamon.App.Deliver.Discs;
using Wergamon.App.Deliver.Files;
using Wergamon.App.Deliver.Sticks;
using Wergamon.App.Intake;
using Wergamon.App.Intake.Upload;
using Wergamon.App.Library.Listening;
using Wergamon.App.Library.Removing;
using Wergamon.App.Library.Scan;
using Wergamon.App.Sets;
using Wergamon.App.Storage;
using Wergamon.App.Tags;
using Wergamon.App.Tests.Intake;
using Wergamon.App.Tracks;
using Wergamon.Core.Tags;

namespace Wergamon.App.Tests.Files;

/// <summary>Prepares work of every kind on one library, so that it can be started at one moment.</summary>
internal sealed class RunsOfAllKinds(RunningApp app)
{
    /// <summary>The folders that the work reads from and writes to.</summary>
    public static readonly string[] Folders = ["music", "output", "stick", "drop", "images", "mirror", "ripped"];

    private const int Tracks = 6;

    private const string Drive = "A", Burner = "C";

    private readonly List<Action> _starts = [], _seconds = [];

    public async Task PrepareAsync()
    {
        for (int i = 1; i <= Tracks; i++)
            app.AddTrack(i, 1 + 0.25 * i);
        foreach (var folder in Folders)
            Directory.CreateDirectory(app.Folder[folder]);
        _ = new TestRack(app.Options.RackFolder);
        await app.StartAsync();
        await app.ScanAsync();
        await RunningApp.UntilAsync(() => app.Get<BackgroundAnalysis>().CountLeft() == 0);
        var tracks = app.Get<LibraryQueries>().TracksOfAlbum(app.Get<LibraryQueries>().Albums()[0].Id);
        var ids = tracks.Select(track => track.Id).ToList();
        Convert(ids);
        Write([.. tracks.Select(track => track.Master.Id)]);
        Deliver(ids);
        FillStick(ids);
        Tidy(tracks[^1].Master);
        await RipAsync();
        Upload(File.ReadAllBytes(tracks[0].Master.Path));
        // Taken once it has rested for some seconds, and then goes to the trash.
        File.Copy(tracks[1].Master.Path, Path.Combine(app.Folder["drop"], "dropped.wav"));
        Assert.Null(app.Get<DropFolderStore>().Add(app.Folder["drop"], "archive", app.Output, takesOriginals: true));
    }

    /// <summary>Starts all of it, and waits until nothing goes on; then what follows from it.</summary>
    /// <returns>How many items were done.</returns>
    public async Task<int> RunAsync()
    {
        foreach (var start in _starts)
            start();
        await EndAsync();
        foreach (var start in _seconds)
            start();
        await EndAsync();
        // Runs that are waiting for a missing folder, or have failed, count as ended.
        app.Get<MusicFolders>().RescanAll();
        await RunningApp.UntilAsync(() => !app.Get<MusicFolders>().IsScanning);
        using var connection = app.Get<Database>().Open();
        return connection.ExecuteScalar<int>("SELECT COUNT(*) FROM run_item WHERE state = 'done'");
    }

    private async Task EndAsync()
    {
        await RunningApp.UntilAsync(() => CountRunning() == 0 && app.Get<DropFolderStore>().List().All(folder => folder.Running == 0));
    }

    private int CountRunning() =>
        app.Get<Database>()
            .Read("runs under way", connection => connection.ExecuteScalar<int>("SELECT COUNT(*) FROM run WHERE state = 'running'"));

    private void Convert(List<long> tracks)
    {
        var plans = app.Get<Plans>();
        foreach (var target in (string[])["archive", "pocket-player", "small-share"])
        {
            long plan = plans.Create("Exchange", target, tracks);
            Assert.Null(plans.SetOutputFolder(plan, app.Output));
            _starts.Add(() => plans.Start(plan, plans.View(plan)?.Loss));
        }

        long kept = plans.Create("Mirror", "phone", tracks);
        Assert.Null(plans.SetOutputFolder(kept, app.Folder["mirror"]));
        long mirror = app.Get<Mirrors>().Keep(kept).Id!.Value;
        _starts.Add(() => app.Get<Mirrors>().Update(mirror));
        _seconds.Add(() => app.Get<Mirrors>().Update(mirror, remakesAll: true));
    }

    private void Write(List<long> copies)
    {
        long sheet = app.Get<TagSheets>().Create("Exchange", copies);
        IReadOnlyList<string> comment = [new string('c', 5000)];
        app.Get<TagSheets>().SetFields(sheet, copies.Select(id => (id, FieldNames.Comment, comment)));
        long? run = null;
        _starts.Add(() => run = app.Get<TagRuns>().Write(sheet, allCopies: false));
        _seconds.Add(() => app.Get<TagRuns>().Undo(run ?? 0));
        _starts.Add(() => app.Get<Inspections>().StartAll());
        _seconds.Add(() => app.Get<NullTests>().Start(copies[0], copies[1], matchesLevel: true));
        _starts.Add(() => app.Get<Passes>().Start(copies[^1], [app.Get<TargetChoices>().Get("pocket-player")], count: 2));
    }

    private void Deliver(List<long> tracks)
    {
        var images = app.Folder["images"];
        long joined = app.Get<JoinedFiles>().Create("Joined", tracks);
        app.Get<JoinedFiles>().SetSettings(joined, JoinedSettings.Of(app.Get<DeliveryStore>().Get(joined)!) with { Folder = images });
        _starts.Add(() => app.Get<JoinedFiles>().Start(joined));

        long audio = app.Get<AudioDiscs>().Create("Audio", [.. tracks.Take(2)]);
        app.Get<AudioDiscs>().SetSettings(audio, AudioDiscSettings.Of(app.Get<DeliveryStore>().Get(audio)!) with { ImageFolder = images });
        _starts.Add(() => app.Get<AudioDiscs>().WriteImage(audio));
        _seconds.Add(() =>
        {
            app.Get<BurnerBay>().Insert(Burner, "blank-80");
            app.Get<AudioDiscs>().Burn(audio);
        });

        long data = app.Get<DataDiscs>().Create("Data", tracks);
        app.Get<DataDiscs>().SetSettings(data, DataDiscSettings.Of(app.Get<DeliveryStore>().Get(data)!) with { ImageFolder = images });
        _starts.Add(() => app.Get<DataDiscs>().WriteImage(data));

        long zip = app.Get<ZippedFiles>().Create("Zip", tracks);
        _starts.Add(() => app.Get<ZippedFiles>().Start(zip));
    }

    private void FillStick(List<long> tracks)
    {
        const string Theirs = "Theirs/guest.wav";
        var sticks = app.Get<MusicSticks>();
        long set = app.Get<SetStore>().Create("Exchange")!.Value;
        app.Get<MusicSets>().Add(set, tracks);
        long stick = sticks.Add(app.Folder["stick"], "Stick", "car-radio").Id!.Value;
        app.Get<StickLists>().AddSet(stick, set);
        var theirs = Path.Combine(app.Folder["stick"], Theirs);
        Directory.CreateDirectory(Path.GetDirectoryName(theirs)!);
        File.Move(app.AddTrack(20, 1.1, "Guests"), theirs);
        long folder = app.Get<MusicFolders>().List()[0].Id;
        _starts.Add(() => app.Get<StickImports>().Start(stick, folder, [Theirs]));
        _seconds.Add(() => sticks.Update(stick));
    }

    /// <summary>To the trash and back, again and again.</summary>
    private void Tidy(CopyRow copy) => _starts.Add(() =>
    {
        var trash = app.Get<Trash>();
        for (int time = 0; time < 10; time++)
        {
            trash.Take(copy, "Exchange");
            foreach (var item in trash.List())
                trash.PutBack(item.Id);
        }
    });

    private async Task RipAsync()
    {
        Assert.Null(app.Get<DriveBay>().Insert(Drive, TestRack.Key));
        await RunningApp.UntilAsync(() => app.Get<InsertedDiscs>().On(Drive) is { State: not LookUpState.Asking });
        var choice = new DiscChoice(false, new RipSettings { Targets = ["archive"] });
        Assert.Null(app.Get<DiscRips>().Choose(choice, app.Folder["ripped"], null));
        _starts.Add(() => app.Get<DiscRips>().Start(Drive, [1, 2, 3]));
        _seconds.Add(() =>
        {
            var discs = app.Get<InsertedDiscs>();
            if (discs.On(Drive) is { } inserted && app.Get<DiscStore>().Get(inserted.DiscId)?.ReadAlbum() is { } album)
                discs.Rename(Drive, album with { Title = "Lamp Room, Mended" });
        });
    }

    private void Upload(byte[] bytes)
    {
        var uploads = app.Get<Uploads>();
        long folder = app.Get<MusicFolders>().List()[0].Id;
        Action send = () =>
        {
            if (uploads.Offer(folder, [new OfferedFile("Sent/sent.wav", bytes.Length, 0)]).Files is [{ Id: { } id }])
                uploads.ReceiveAsync(id, 0, new MemoryStream(bytes), CancellationToken.None).GetAwaiter().GetResult();
        };
        _starts.Add(send);
        _seconds.Add(send);
    }
}
