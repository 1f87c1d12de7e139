using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Steps;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Planning;
using Wergamon.Testing;
using Wergamon.Testing.Outside;

namespace Wergamon.Worker.Tests;

/// <summary>Level, channels and word length through the real worker; results measured by libebur128.</summary>
public sealed class LevelTests(WorkerFixture worker) : IClassFixture<WorkerFixture>
{
    private static readonly Target Own = new("own", "Own", new FlacSettings());

    [Theory]
    [InlineData(LevelKind.Loudness, -23, -1, 48_000)]
    [InlineData(LevelKind.Loudness, -10, -3, 48_000)]
    [InlineData(LevelKind.Peak, -23, -2, 44_100)]
    public async Task A_copy_has_the_level_that_its_target_wants(LevelKind kind, double loudness, double ceiling, int rate)
    {
        var name = $"level-{kind}-{-ceiling}";
        var source = worker.MakeWav(name + ".wav", new PcmFormat(new SampleRate(48_000), 2, 24), 48_000 * 6, music: true);
        var rule = new LevelRule(kind) { Loudness = loudness, Ceiling = ceiling };
        await worker.ProveAsync(source, worker.Folder[name + ".flac"], Own with { Rate = new SampleRate(rate), Bits = 16, Level = rule });
        var (integrated, peak) = Outside(worker.Folder[name + ".flac"]);
        var before = Outside(source);
        double wanted = rule.GainFor(before.Integrated, Decibels.ToGain(before.Peak));
        Assert.Equal(before.Integrated + wanted, integrated, 0.1);
        Assert.InRange(peak, -60, ceiling + 0.1);
        if (kind == LevelKind.Peak)
            Assert.Equal(ceiling, peak, 0.2);
    }

    [Fact]
    public async Task Peaks_between_samples_are_lowered_before_resampling_clips_them()
    {
        // Full scale at the samples of 48 kHz, 3 dB more between them.
        var source = worker.Folder["between.wav"];
        using (var writer = new Core.Formats.Wav.WavWriter(File.Create(source), new PcmFormat(new SampleRate(48_000), 2, 24)))
        {
            new TestSound(writer.Format, 48_000, (block, start) =>
            {
                for (int i = 0; i < block.Integers.Length; i++)
                    block.Integers[i] = (start + i / 2) % 4 < 2 ? 8_388_607 : -8_388_607;
            }).CopyTo(writer);
        }

        var target = Own with { Rate = SampleRate.AudioDisc, Bits = 16 };
        Assert.InRange((await worker.ProveAsync(source, worker.Folder["clips.flac"], target)).ClippedSamples, 1_000, long.MaxValue);
        var proof = await worker.ProveAsync(
            source, worker.Folder["lowered.flac"], target with { Level = new LevelRule(LevelKind.AvoidClipping) });
        Assert.Equal(0, proof.ClippedSamples);
        Assert.InRange(proof.FittingGainDecibels!.Value, -5, -2.5);
    }

    [Fact]
    public async Task Unused_bits_are_dropped_losslessly()
    {
        var source = worker.Folder["padded.wav"];
        using (var writer = new Core.Formats.Wav.WavWriter(File.Create(source), new PcmFormat(SampleRate.AudioDisc, 2, 24)))
            new WideningReader(TestSound.Noise(new PcmFormat(SampleRate.AudioDisc, 2, 16), 44_100), 24).CopyTo(writer);
        var plain = worker.MakeWav("plain-16.wav", new PcmFormat(SampleRate.AudioDisc, 2, 16), 44_100);
        var known = new KnownSound(16, new SoundLevel(-10, 1));
        var proof = await worker.ProveAsync(source, worker.Folder["narrow.flac"], Own with { MaxBits = 16 }, known: known);
        Assert.Equal((await worker.ProveAsync(plain, worker.Folder["plain.flac"], Own)).SampleMd5, proof.SampleMd5);
    }

    private static (double Integrated, double Peak) Outside(string path)
    {
        using var reader = Codecs.AudioFiles.Open(path);
        var block = new SampleBuffer(reader.Format);
        var samples = new List<float>();
        while (reader.Read(block) > 0)
        {
            foreach (int sample in block.Integers)
                samples.Add((float)(sample / Math.Pow(2, reader.Format.Bits - 1)));
        }

        var (integrated, _, peak) = LibEbur128.Measure(samples.ToArray(), reader.Format);
        return (integrated, Decibels.FromGain(peak));
    }
}
