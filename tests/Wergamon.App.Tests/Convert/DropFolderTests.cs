using Wergamon.App.Convert;
using Wergamon.App.Copies;
using Wergamon.App.Library.Removing;
using Wergamon.App.Library.Scan;
using Wergamon.Codecs;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Mp3;
using Wergamon.Core.Formats.Wav;
using Wergamon.Testing;

namespace Wergamon.App.Tests.Convert;

/// <summary>Folders whose files are converted automatically.</summary>
public sealed class DropFolderTests
{
    [Fact]
    public async Task Files_are_converted_once_they_have_stopped_growing()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        var folder = Watch(app, takesOriginals: true);
        Write(Path.Combine(folder, "tape", "1 Adit.wav"));
        var broken = Path.Combine(folder, "2 Broken.flac");
        File.WriteAllText(broken, "no music");
        // A file that goes on growing until the other one is converted.
        byte[] whole = File.ReadAllBytes(Write(app.Folder["3 Winze.wav"]));
        var growing = Path.Combine(folder, "3 Winze.wav");
        using (var file = File.Create(growing))
        {
            await RunningApp.UntilAsync(() =>
            {
                file.Write(whole.AsSpan((int)file.Position, (int)Math.Min(128, whole.Length - file.Position)));
                file.Flush();
                return app.OutputFiles().Any(name => name.EndsWith(".flac", StringComparison.Ordinal));
            });
            file.Write(whole.AsSpan((int)file.Position));
        }

        await RunningApp.UntilAsync(() => app.Get<DropFolderStore>().List()[0] is { Done: 2, Failed: 1, Running: 0 });
        Assert.Equal(2, app.OutputFiles().Count());
        foreach (var file in app.OutputFiles())
        {
            using var reader = AudioFiles.Open(Path.Combine(app.Output, file));
            Assert.Equal(44_100, reader.FrameCount);
        }

        // Originals are in the trash; what failed stays, with a note.
        Assert.Equal(2, app.Get<Trash>().List().Count);
        Assert.False(File.Exists(growing));
        Assert.True(File.Exists(broken));
        Assert.NotEmpty(File.ReadAllText(broken + ".not-converted.txt"));

        // Mended, it is converted, and the note goes.
        File.WriteAllBytes(
            broken,
            File.ReadAllBytes(Path.Combine(app.Output, app.OutputFiles().Single(file => file.Contains("Adit", StringComparison.Ordinal)))));
        await RunningApp.UntilAsync(() => app.Get<DropFolderStore>().List()[0] is { Done: 3, Failed: 0 });
        Assert.False(File.Exists(broken + ".not-converted.txt"));
    }

    [Fact]
    public async Task Originals_stay_and_are_converted_once_across_restarts()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        var folder = Watch(app, takesOriginals: false);
        var original = Write(Path.Combine(folder, "Adit.wav"));
        await RunningApp.UntilAsync(() => app.Get<DropFolderStore>().List()[0].Done == 1);
        await app.StopAsync();
        await app.StartAsync();
        Write(Path.Combine(folder, "Winze.wav"));
        await RunningApp.UntilAsync(() => app.Get<DropFolderStore>().List()[0].Done == 2);
        Assert.Equal(2, app.OutputFiles().Count());
        Assert.True(File.Exists(original));
    }

    [Fact]
    public async Task A_folder_that_would_convert_its_own_copies_is_refused()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        var store = app.Get<DropFolderStore>();
        var folder = app.Folder["drop"];
        Directory.CreateDirectory(folder);
        Assert.Contains("converted again", store.Add(folder, "archive", Path.Combine(folder, "out"), false), StringComparison.Ordinal);
        Assert.Null(app.Get<MusicFolders>().Add(app.Music));
        Assert.Contains("music folders", store.Add(app.Music, "archive", app.Output, false), StringComparison.Ordinal);
        Assert.Null(store.Add(folder, "archive", app.Output, false));
        Directory.CreateDirectory(Path.Combine(folder, "inner"));
        Assert.Contains(
            "already a drop folder", store.Add(Path.Combine(folder, "inner"), "archive", app.Output, false), StringComparison.Ordinal);
        Assert.NotNull(store.Add("/etc", "archive", app.Output, false));
    }

    /// <summary>
    /// Originals go where nothing of them is lost, or where just that loss was agreed to; a target that changes later is asked about again.
    /// </summary>
    [Fact]
    public async Task Originals_stay_once_the_target_loses_more_than_was_agreed_to()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        var (store, targets) = (app.Get<DropFolderStore>(), app.Get<TargetChoices>());
        var folder = Watch(app, takesOriginals: true);
        var archive = targets.Get("archive");

        // Lossless when the folder was added, lossy by now.
        targets.Save(archive with { Encoder = Mp3Settings.Constant(128) });
        Assert.True(store.KeepsForWantOfConsent(store.List()[0]));
        var first = Write(Path.Combine(folder, "1 Adit.wav"));
        await RunningApp.UntilAsync(() => store.List()[0].Done == 1);
        Assert.True(File.Exists(first));
        Assert.Empty(app.Get<Trash>().List());

        store.AgreeToLoss(store.List()[0].Id);
        Assert.False(store.KeepsForWantOfConsent(store.List()[0]));
        var second = Write(Path.Combine(folder, "2 Winze.wav"));
        await RunningApp.UntilAsync(() => store.List()[0].Done == 2);
        Assert.False(File.Exists(second));

        // Agreed to for 128 kbit/s, not for less.
        targets.Save(archive with { Encoder = Mp3Settings.Constant(96) });
        Assert.True(store.KeepsForWantOfConsent(store.List()[0]));
        var third = Write(Path.Combine(folder, "3 Stope.wav"));
        await RunningApp.UntilAsync(() => store.List()[0].Done == 3);
        Assert.True(File.Exists(third));

        targets.Save(archive);
        var fourth = Write(Path.Combine(folder, "4 Sump.wav"));
        await RunningApp.UntilAsync(() => store.List()[0].Done == 4);
        Assert.False(File.Exists(fourth));
        Assert.True(File.Exists(first) && File.Exists(third));

        Directory.CreateDirectory(app.Folder["other"]);
        Assert.Contains(
            "is lossy", store.Add(app.Folder["other"], "pocket-player", app.Output, takesOriginals: true), StringComparison.Ordinal);
        Assert.Null(store.Add(app.Folder["other"], "pocket-player", app.Output, takesOriginals: true, agreesToLoss: true));
    }

    [Fact]
    public async Task Links_in_a_drop_folder_are_not_followed()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        var folder = Watch(app, takesOriginals: true);
        var outside = Write(app.Folder["elsewhere/Winch.wav"]);
        Directory.CreateSymbolicLink(Path.Combine(folder, "link"), app.Folder["elsewhere"]);
        Directory.CreateSymbolicLink(Path.Combine(folder, "here"), ".");
        File.CreateSymbolicLink(Path.Combine(folder, "0 Winch.wav"), outside);
        Write(Path.Combine(folder, "1 Adit.wav"));
        await RunningApp.UntilAsync(() => app.Get<DropFolderStore>().List()[0].Done == 1);
        Assert.Single(app.OutputFiles());
        Assert.True(File.Exists(outside));
        Assert.Single(Directory.GetFiles(app.Folder["elsewhere"]));
    }

    /// <summary>Restarts that come sooner than a file would be taken do not keep it from being taken.</summary>
    [Fact]
    public async Task Files_are_converted_despite_restarts()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        var folder = Watch(app, takesOriginals: false);
        Write(Path.Combine(folder, "1 Adit.wav"));
        for (int i = 0; i < 40 && app.Get<DropFolderStore>().List()[0] is { Running: 0, Done: 0 }; i++)
        {
            // Time for one look at most.
            await Task.Delay(1000);
            await app.StopAsync();
            await app.StartAsync();
        }

        await RunningApp.UntilAsync(() => app.Get<DropFolderStore>().List()[0].Done == 1);
    }

    private static string Watch(RunningApp app, bool takesOriginals)
    {
        var folder = app.Folder["drop"];
        Directory.CreateDirectory(folder);
        Directory.CreateDirectory(app.Output);
        Assert.Null(app.Get<DropFolderStore>().Add(folder, "archive", app.Output, takesOriginals));
        return folder;
    }

    private static string Write(string path)
    {
        Directory.CreateDirectory(Path.GetDirectoryName(path)!);
        using var writer = new WavWriter(File.Create(path), new PcmFormat(SampleRate.AudioDisc, 2, 16));
        TestSound.Music(writer.Format, 44_100).CopyTo(writer);
        return path;
    }
}
