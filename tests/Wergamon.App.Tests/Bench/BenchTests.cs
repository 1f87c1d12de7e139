using Wergamon.App.Bench;
using Wergamon.App.Copies;
using Wergamon.App.Runs;
using Wergamon.Core.Analysis.Comparing;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Formats.Mp3;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Planning;
using Wergamon.Testing;

namespace Wergamon.App.Tests.Bench;

/// <summary>The Bench with real workers and real files.</summary>
public sealed class BenchTests
{
    private const int Rate = 44_100, Seconds = 6;

    private static readonly PcmFormat Format = new(SampleRate.AudioDisc, 2, 16);

    [Fact]
    public async Task Two_copies_are_compared_kept_and_made_again()
    {
        await using var app = new RunningApp(options => options with { BenchCacheBytes = 1 });
        await app.StartAsync();
        var (first, second) = (AddLoud(app, "a.wav"), AddLoud(app, "b.wav", soften: true));
        await app.ScanAsync();
        var (tests, store) = (app.Get<NullTests>(), app.Get<NullTestStore>());
        long test = tests.Start(CopyAt(app, first), CopyAt(app, second), matchesLevel: true)!.Value;
        Assert.Equal(test, tests.Start(CopyAt(app, first), CopyAt(app, second), matchesLevel: true));
        var found = await EndAsync(app, test);
        Assert.Equal(NullVerdictKind.SameSound, NullVerdict.Of(found.Result!));
        Assert.Equal(6.02, found.Result!.GainDecibels, 0.01);
        using (var sound = tests.Open(found)!)
        {
            sound.Read(Rate, 1000);
            Assert.True(
                sound.First.ToArray()
                    .Zip(sound.Matched.ToArray(), sound.Residue.ToArray())
                    .All(each => each.Third == each.First - each.Second));
            Assert.NotEqual(0, sound.First[500]);
        }

        // The next one takes its place in a cache of no size; the figures stay.
        long plain = tests.Start(CopyAt(app, first), CopyAt(app, second), matchesLevel: false)!.Value;
        Assert.Equal(6.02, (await EndAsync(app, plain)).Result!.BelowMusic, 0.1);
        Assert.Null(tests.Open(store.Get(test)!));
        Assert.Null(tests.Waveform(store.Get(test)!, 0, Rate, 10));
        Assert.NotNull(store.Get(test)!.Result);
        tests.Again(test);
        Assert.NotNull(tests.Waveform(await EndAsync(app, test), 0, Rate, 10));

        // A file that has changed is said, and another test is made of it.
        Assert.True(found.Second.IsUnchanged);
        AddLoud(app, "b.wav", soften: false);
        Assert.False(found.Second.IsUnchanged);
        File.Delete(first);
        long gone = tests.Start(CopyAt(app, first), CopyAt(app, second), matchesLevel: true)!.Value;
        Assert.Contains("is missing", (await EndAsync(app, gone)).Failure, StringComparison.Ordinal);
        tests.Remove(gone);
        Assert.Null(store.Get(gone));
    }

    /// <summary>
    /// Common practice, no source: lossless passes null however many there are; eight lossy ones at a fixed 192 kbit/s leave a residue in
    /// nearly the whole track and reach full scale where the source did not, and never come back to it.
    /// </summary>
    [Fact]
    public async Task Passes_without_loss_null_and_lossy_ones_lose_more_and_more()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        var path = AddLoud(app, "loud.wav");
        await app.ScanAsync();
        var (passes, store) = (app.Get<Passes>(), app.Get<PassStore>());
        var lossless = new Target("flac", "FLAC", new FlacSettings());
        var lossy = new Target("mp3", "MP3 192", Mp3Settings.Constant(192));
        long id = passes.Start(CopyAt(app, path), [lossless, lossy], 8)!.Value;
        Assert.All(
            await app.EndAsync(store.Get(id)!.RunId!.Value), item => Assert.Equal((ItemState.Done, null), (item.State, item.Failure)));
        var record = store.Get(id)!;
        var (same, worse) = (record.Series[0].Passes, record.Series[1].Passes);
        Assert.Equal([8, 8], record.Series.Select(series => series.Passes.Count));
        Assert.All(
            same,
            pass =>
                Assert.Equal(
                    (NullVerdictKind.Identical, NullVerdictKind.Identical),
                    (NullVerdict.Of(pass.Original), NullVerdict.Of(pass.Previous))));
        Assert.All(worse, pass =>
        {
            Assert.Equal(NullVerdictKind.Loss, NullVerdict.Of(pass.Original));
            Assert.True(pass.Original.ShareOfSeconds > 0.9);
            Assert.Equal(0, pass.Original.First.ClippedSamples);
            Assert.True(pass.Original.Second.ClippedSamples > 0);
            Assert.NotEqual(pass.Original.First.Loudest!.Decibels, pass.Original.Second.Loudest!.Decibels, 0.001);
            Assert.NotEqual(pass.Original.First.Quietest!.Decibels, pass.Original.Second.Quietest!.Decibels, 0.001);
        });
        for (int i = 1; i < worse.Count; i++)
            Assert.True(
                worse[i].Original.ResidueDecibels > worse[i - 1].Original.ResidueDecibels - 0.05,
                $"pass {i + 1}: {worse[i].Original.ResidueDecibels} after {worse[i - 1].Original.ResidueDecibels}");

        // Any two of them can be seen and heard.
        var test = await EndAsync(app, passes.Compare(id, record.Series[1].Id, 8, 7)!.Value);
        Assert.Equal(worse[7].Previous.ResidueDecibels, test.Result!.ResidueDecibels, 0.001);
        Assert.NotNull(app.Get<NullTests>().Waveform(test, 0, Rate, 10));

        // What the cache has lost is made again.
        File.Delete(worse[3].Sound.Path);
        Assert.Null(passes.Compare(id, record.Series[1].Id, 4, 0));
        passes.Again(id);
        await app.EndAsync(store.Get(id)!.RunId!.Value);
        Assert.Equal(worse[7].Original.ResidueDecibels, store.Get(id)!.Series[1].Passes[7].Original.ResidueDecibels, 0.001);
        passes.Remove(id);
        Assert.False(Directory.Exists(Path.GetDirectoryName(worse[3].Sound.Path)));
    }

    private static async Task<NullTestRecord> EndAsync(RunningApp app, long test)
    {
        var store = app.Get<NullTestStore>();
        await RunningApp.UntilAsync(() => app.Get<RunStore>().Get(store.Get(test)!.RunId!.Value)!.State == RunState.Done);
        return store.Get(test)!;
    }

    private static long CopyAt(RunningApp app, string path) => app.Get<CopyFiles>().At(path)!.Id;

    /// <summary>Dense music, pressed against a ceiling just below full scale, with a quiet second in it.</summary>
    private static string AddLoud(RunningApp app, string name, bool soften = false)
    {
        // Somebody may be reading the file that is there.
        var (path, whole) = (Path.Combine(app.Music, name), app.Folder[name]);
        using (var writer = new WavWriter(File.Create(whole), Format))
        {
            new TestSound(Format, Seconds * Rate, (block, start) =>
            {
                var samples = block.Integers;
                for (int i = 0; i < samples.Length; i++)
                {
                    long frame = start + i / 2;
                    double t = (double)frame / Rate;
                    uint noise = (uint)(frame * 2 + i % 2) * 2_654_435_761;
                    double sound = Math.Sin(2 * Math.PI * (220 + 3 * (i % 2)) * t) + 0.8 * Math.Sin(2 * Math.PI * 1870 * t * (1 + 0.01 * t))
                        + 0.5 * ((noise ^ noise >> 15) / (double)uint.MaxValue - 0.5);
                    double level = frame is >= 2 * Rate and < 3 * Rate ? 0.05 : 1.4;
                    samples[i] = (int)((soften ? 0.5 : 1) * 32_400 * Math.Clamp(level * sound, -1, 1));
                }
            }).CopyTo(writer);
            writer.Complete();
        }

        File.Move(whole, path, overwrite: true);
        return path;
    }
}
