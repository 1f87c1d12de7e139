using Wergamon.Core.Analysis.Comparing;
using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Resampling;
using Wergamon.Core.Audio.Steps;
using Wergamon.Core.Jobs;
using Wergamon.Testing;

namespace Wergamon.Worker.Tests;

/// <summary>Null tests of real files.</summary>
public sealed class ComparisonTests(WorkerFixture worker) : IClassFixture<WorkerFixture>
{
    private const int Frames = 6 * 44_100 + 17;

    private static readonly PcmFormat Format = new(SampleRate.AudioDisc, 2, 16);

    /// <summary>Common practice, no source: copies without loss null to silence.</summary>
    [Fact]
    public async Task Copies_without_loss_null_to_silence()
    {
        var wav = worker.MakeWav("null.wav", Format, Frames, music: true);
        foreach (var (container, codec, extension) in new[]
        {
            ("flac", "flac", "flac"), ("mp4", "alac", "m4a"), ("wv", "wavpack", "wv"), ("aiff", "pcm_s16be", "aiff"), ("tta", "tta", "tta")
        })
        {
            var other = EncodedFile.Write(worker.Folder["null." + extension], container, codec, TestSound.Music(Format, Frames));
            var result = await CompareAsync(wav, other);
            Assert.Equal(
                (2L * Frames, null, -200.0, 0L), (result.EqualSamples, result.ResiduePeak, result.ResidueDecibels, result.MaxSteps));
            Assert.Equal("Identical bit for bit", NullVerdict.InWords(result, "B"));
            Assert.All(result.ResidueSpectrum, level => Assert.Equal(-200, level));
        }
    }

    /// <summary>Common practice, no source: a WAV made from an MP3 nulls against that MP3.</summary>
    [Fact]
    public async Task Lossless_copy_of_a_lossy_file_nulls_against_it()
    {
        var mp3 = EncodedFile.Write(worker.Folder["one.mp3"], "mp3", "libmp3lame", TestSound.Music(Format, Frames), ("b", "192000"));
        var decoded = worker.Folder["decoded.wav"];
        Assert.IsType<DecodeReply>(await worker.AskAsync(new DecodeJob(mp3, decoded, Frames)));
        Assert.Equal("Identical bit for bit", NullVerdict.InWords(await CompareAsync(mp3, decoded), "B"));
        var flac = EncodedFile.Write(
            worker.Folder["from-mp3.flac"], "flac", "flac", new RequantisingReader(Codecs.AudioFiles.Open(mp3), 16));
        var result = await CompareAsync(mp3, flac);
        Assert.Equal(NullVerdictKind.LastBits, NullVerdict.Of(result));
        Assert.InRange(result.MaxSteps!.Value, 1, 2);
    }

    [Fact]
    public async Task A_lossy_copy_is_known_as_the_same_recording_and_other_music_is_not()
    {
        var wav = worker.MakeWav("source.wav", Format, Frames, music: true);
        var mp3 = EncodedFile.Write(worker.Folder["lossy.mp3"], "mp3", "libmp3lame", TestSound.Music(Format, Frames), ("b", "128000"));
        var lossy = await CompareAsync(wav, mp3);
        Assert.Equal(NullVerdictKind.Loss, NullVerdict.Of(lossy));
        Assert.Equal(0, lossy.Place!.Offset);
        Assert.Equal(NullVerdictKind.Different, NullVerdict.Of(await CompareAsync(wav, worker.MakeWav("noise.wav", Format, Frames))));
    }

    [Fact]
    public async Task Swapped_channels_are_reported()
    {
        var wav = worker.MakeWav("sides.wav", Format, Frames, music: true);
        var swapped = EncodedFile.Write(
            worker.Folder["swapped.flac"], "flac", "flac",
            new ChannelMapReader(TestSound.Music(Format, Frames), [1, 0], ChannelRolesFacts.Usual(2)));
        var result = await CompareAsync(wav, swapped);
        Assert.Equal("Every sample is equal, but B has its channels swapped", NullVerdict.InWords(result, "B"));
        Assert.False((await CompareAsync(wav, wav)).IsSwapped);
    }

    /// <summary>The rate of the higher one, and stereo, are what both are compared in.</summary>
    [Fact]
    public async Task Other_rates_and_channels_are_matched_first()
    {
        var wav = worker.MakeWav("stereo.wav", Format, Frames, music: true);
        var high = EncodedFile.Write(
            worker.Folder["high.flac"], "flac", "flac",
            new RequantisingReader(new ResamplingReader(TestSound.Music(Format, Frames), new SampleRate(96_000)), 24));
        var result = await CompareAsync(wav, high);
        Assert.Equal((96_000, 2), (result.Rate, result.Channels));
        Assert.True(result.BelowMusic > 70, $"{result.BelowMusic}");
        Assert.Equal((Frames, 44_100), ((int)result.First.FrameCount, result.First.Format.Rate.Hertz));
        var mono = Format with { Channels = 1, Roles = ChannelRolesFacts.Usual(1) };
        var single = worker.MakeWav("mono.wav", mono, Frames, music: true);
        var twice = EncodedFile.Write(
            worker.Folder["twice.flac"], "flac", "flac",
            new ChannelMapReader(TestSound.Music(mono, Frames), [0, 0], ChannelRolesFacts.Usual(2)));
        Assert.Equal(NullVerdictKind.Identical, NullVerdict.Of(await CompareAsync(single, twice)));
    }

    [Fact]
    public async Task Unreadable_file_is_reported_and_silence_is_compared()
    {
        var wav = worker.MakeWav("there.wav", Format, 44_100);
        var broken = worker.Folder["broken.flac"];
        await File.WriteAllTextAsync(broken, "no sound at all");
        Assert.NotNull((await worker.AskAsync(new CompareJob(wav, broken, worker.Folder["out"], true))).Failure);
        var silent = EncodedFile.Write(
            worker.Folder["silent.flac"], "flac", "flac", new TestSound(Format, 44_100, (block, _) => block.Integers.Clear()));
        Assert.Equal(NullVerdictKind.Silence, NullVerdict.Of(await CompareAsync(wav, silent)));
        Assert.Equal(NullVerdictKind.Identical, NullVerdict.Of(await CompareAsync(silent, silent)));
        var single = worker.MakeWav("single.wav", Format, 1);
        Assert.Equal(NullVerdictKind.Identical, NullVerdict.Of(await CompareAsync(single, single)));
    }

    private async Task<NullTestResult> CompareAsync(string first, string second)
    {
        var reply = await worker.AskAsync(new CompareJob(first, second, worker.Folder["compared"], MatchesLevel: true));
        return Assert.IsType<CompareReply>(reply).Result;
    }
}
