using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Mp3;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Planning;
using Wergamon.Testing;
using Wergamon.Testing.Outside;

namespace Wergamon.Worker.Tests;

public sealed class LossyTests(WorkerFixture worker) : IClassFixture<WorkerFixture>
{
    private static readonly Target PocketPlayer = StandardTargets.BuiltIn[1];

    /// <summary>libmpg123 1.31 with gapless on, as it is by default.</summary>
    [Theory]
    [InlineData(44_100, 2, 16, 44_100)]
    [InlineData(44_100, 1, 16, 100_001)]
    [InlineData(48_000, 2, 24, 1)]
    [InlineData(44_100, 2, 16, 46)]
    [InlineData(44_100, 2, 16, 1153)]
    [InlineData(44_100, 1, 16, 116_360)]
    [InlineData(22_050, 1, 16, 577)]
    [InlineData(32_000, 2, 16, 1152)]
    [InlineData(22_050, 2, 16, 50_000)]
    public async Task An_mp3_is_as_long_as_its_source(int rate, int channels, int bits, int frames)
    {
        var target = PocketPlayer with { HighestRate = new SampleRate(48_000) };
        var source = worker.MakeWav(
            $"length-{rate}-{channels}-{frames}.wav", new PcmFormat(new SampleRate(rate), channels, bits), frames, music: true);
        foreach (var quality in new[]
        {
            Mp3Settings.Constant(128), Mp3Settings.Constant(320), Mp3Settings.Average(160), Mp3Settings.Variable(2)
        })
        {
            var output = worker.Folder[$"length-{rate}-{channels}-{frames}-{quality.Mode}{quality.Value}.mp3"];
            var proof = await worker.ProveAsync(source, output, target with { Encoder = quality });
            Assert.Equal(frames, proof.FramesOut);
            Assert.Equal(frames, LibMpg123.CountFrames(output));
        }
    }

    [Fact]
    public async Task Size_at_a_constant_bitrate_is_as_planned()
    {
        var source = worker.MakeWav("mp3-size.wav", new PcmFormat(SampleRate.AudioDisc, 2, 16), 441_000, music: true);
        var proof = await worker.ProveAsync(source, worker.Folder["mp3-size.mp3"], PocketPlayer);
        var route = RoutePlanner.Plan(await worker.FactsAsync(source), Fidelity.Exact, PocketPlayer);
        var said = PocketPlayer.Format.EstimateSize(PocketPlayer.Encoder, route.Sound, Core.Tags.TagContents.Empty);
        Assert.InRange(proof.Bytes, said.Bytes - 2000, said.Bytes + 2000);
        Assert.Equal(256, proof.KilobitsPerSecond);
    }

    /// <summary>Six channels at full scale, downmixed by BS.775, would reach 2.41 times full scale.</summary>
    [Fact]
    public async Task A_full_scale_tone_in_all_channels_is_folded_down_without_clipping()
    {
        var format = new PcmFormat(new SampleRate(48_000), 6, 24);
        var source = worker.Folder["loud-surround.wav"];
        using (var writer = new WavWriter(File.Create(source), format))
        {
            new TestSound(format, 48_000, (block, start) =>
            {
                var samples = block.Integers;
                for (int i = 0; i < samples.Length; i++)
                    samples[i] = (int)(8_388_607 * Math.Sin(2 * Math.PI * 480 * (start + i / 6) / 48_000));
            }).CopyTo(writer);
        }

        var stereo = worker.Folder["loud-surround.mp3"];
        var proof = await worker.ProveAsync(source, stereo, PocketPlayer with { HighestRate = new SampleRate(48_000) });
        Assert.Equal(-20 * Math.Log10(1 + 2 * Math.Sqrt(0.5)), proof.FittingGainDecibels!.Value, 0.01);
        using var reader = new Codecs.LibAvReader(stereo);
        var block = new SampleBuffer(reader.Format);
        double peak = 0;
        while (reader.Read(block) > 0)
        {
            foreach (float sample in block.Floats)
                peak = Math.Max(peak, Math.Abs(sample));
        }

        // The encoder may move the peak slightly; without the downmix gain it would be far above.
        Assert.InRange(peak, 0.9, 1.05);
    }

    [Fact]
    public async Task A_resampled_copy_has_the_length_that_the_route_said()
    {
        var source = worker.MakeWav("resampled.wav", new PcmFormat(new SampleRate(48_000), 2, 24), 48_001, music: true);
        var route = RoutePlanner.Plan(await worker.FactsAsync(source), Fidelity.Exact, PocketPlayer);
        var proof = await worker.ProveAsync(source, worker.Folder["resampled.mp3"], PocketPlayer);
        Assert.Equal(route.OutputFrames, proof.FramesOut);
        Assert.Equal(44_101, LibMpg123.CountFrames(worker.Folder["resampled.mp3"]));
    }

    /// <summary>
    /// A frame of free format holds what any other holds, only its header does not state the bitrate (ISO/IEC 11172-3, 2.4.2.3). libav
    /// decodes the file before, libmpg123 after.
    /// </summary>
    [Fact]
    public async Task Mp3_of_free_format_is_decoded_and_never_carried()
    {
        var whole = worker.Folder["free-source.mp3"];
        await worker.ProveAsync(
            worker.MakeWav("free.wav", new PcmFormat(SampleRate.AudioDisc, 2, 16), 200_000, music: true), whole,
            PocketPlayer with { Encoder = Mp3Settings.Constant(128) });
        var bytes = File.ReadAllBytes(whole);
        int info = bytes.AsSpan().IndexOf("Info"u8);
        bytes = bytes[(info + bytes.AsSpan(info).IndexOf((byte[])[0xFF, 0xFB]))..];
        var stated = worker.Folder["stated.mp3"];
        File.WriteAllBytes(stated, bytes);
        for (int at = 0; at + 4 < bytes.Length;)
        {
            int length = 144 * 128_000 / 44_100 + (bytes[at + 2] >> 1 & 1);
            bytes[at + 2] &= 0x0F;
            at += length;
        }

        var free = worker.Folder["free.mp3"];
        File.WriteAllBytes(free, bytes);
        var facts = await worker.FactsAsync(free);
        Assert.Equal(("MP3 free format", 128), (facts.CodecName, facts.KilobitsPerSecond));
        using var expected = Codecs.AudioFiles.Open(stated);
        using var decoded = Codecs.AudioFiles.Open(free);
        var (one, other) = (ReadFloats(expected), ReadFloats(decoded));
        Assert.Equal(facts.FrameCount * 2, other.Length);
        Assert.InRange(Enumerable.Range(0, Math.Min(one.Length, other.Length)).Max(i => Math.Abs(one[i] - other[i])), 0, 1e-4);
        Assert.Equal(facts.FrameCount, (await worker.ProveAsync(free, worker.Folder["free-out.mp3"], PocketPlayer)).FramesOut);
        Assert.False(RoutePlanner.Plan(facts, Fidelity.Lossy, PocketPlayer).IsCarried);
    }

    private static float[] ReadFloats(IPcmReader reader)
    {
        var block = new SampleBuffer(reader.Format);
        var all = new List<float>();
        while (reader.Read(block) > 0)
            all.AddRange(block.Floats);
        return [.. all];
    }
}
