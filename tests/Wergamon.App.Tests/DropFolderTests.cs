using Wergamon.App.Convert;
using Wergamon.App.Library;
using Wergamon.Codecs;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Wav;
using Wergamon.Testing;

namespace Wergamon.App.Tests;

/// <summary>Folders in which whatever is put is converted.</summary>
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
        File.WriteAllBytes(broken, File.ReadAllBytes(Path.Combine(app.Output, app.OutputFiles().Single(file => file.Contains("Adit", StringComparison.Ordinal)))));
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
        Assert.Contains("drop folder already", store.Add(Path.Combine(folder, "inner"), "archive", app.Output, false), StringComparison.Ordinal);
        Assert.NotNull(store.Add("/etc", "archive", app.Output, false));
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
