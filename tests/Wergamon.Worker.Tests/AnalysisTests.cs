using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;
using Wergamon.Testing;

namespace Wergamon.Worker.Tests;

/// <summary>Checksums, damage and differences of real files.</summary>
public sealed class AnalysisTests(WorkerFixture worker) : IClassFixture<WorkerFixture>
{
    private static readonly PcmFormat Format = new(SampleRate.AudioDisc, 2, 16);

    /// <summary>The checksum that STREAMINFO carries (RFC 9639, section 8.2) is written here by libav.</summary>
    [Fact]
    public async Task Equal_audio_has_one_checksum_in_every_lossless_format()
    {
        var wav = worker.MakeWav("sum.wav", Format, 50_021);
        var flac = EncodedFile.Write(worker.Folder["sum.flac"], "flac", "flac", TestSound.Noise(Format, 50_021));
        var alac = EncodedFile.Write(worker.Folder["sum.m4a"], "mp4", "alac", TestSound.Noise(Format, 50_021));
        using var stream = File.OpenRead(flac);
        var stated = Core.Formats.Flac.FlacTags.Read(stream, 0).StreamInfo!.SampleMd5;
        foreach (var path in new[] { wav, flac, alac })
        {
            var analysis = ((AnalysisReply)await worker.AskAsync(new AnalysisJob(path))).Analysis;
            Assert.Equal((stated, 50_021, 16, 44_100), (analysis.Digest, analysis.FrameCount, analysis.RealBits, analysis.RealRate));
            Assert.Empty(analysis.Damage);
            Assert.NotEmpty(analysis.Waveform);
        }
    }

    [Fact]
    public async Task Flac_that_fails_its_checksum_is_damaged()
    {
        var path = EncodedFile.Write(worker.Folder["wrong.flac"], "flac", "flac", TestSound.Music(Format, 30_000));
        var bytes = File.ReadAllBytes(path);
        bytes[8 + 18] ^= 1;
        File.WriteAllBytes(path, bytes);
        var analysis = ((AnalysisReply)await worker.AskAsync(new AnalysisJob(path))).Analysis;
        Assert.Equal("The samples do not match the MD5 in the file.", Assert.Single(analysis.Damage));
    }

    /// <summary>What is no number (IEEE 754) and what is beyond any level spoils neither the measurements nor the copies.</summary>
    [Theory]
    [InlineData(float.NaN)]
    [InlineData(float.NegativeInfinity)]
    [InlineData(3e38f)]
    public async Task Invalid_floats_are_read_as_silence(float bad)
    {
        var format = Format with { Bits = 32, Kind = SampleKind.Float };
        var samples = TestSound.Tone(44_100, 2, 100_000, 330).AllDoubles().Select(sample => (float)sample).ToArray();
        for (int at = 777; at < samples.Length; at += 20_000)
            samples[at] = bad;
        var path = worker.Folder[$"no value {bad}.wav"];
        using (var writer = new WavWriter(File.Create(path), format))
            new TestSound(
                format, 100_000,
                (block, start) => samples.AsSpan(2 * (int)start, 2 * block.FrameCount).CopyTo(block.Floats)).CopyTo(writer);
        var analysis = ((AnalysisReply)await worker.AskAsync(new AnalysisJob(path))).Analysis;
        Assert.Equal(
            "10 samples have no usable value (not a number, or more than 120 dB over full scale): read as silence.",
            Assert.Single(analysis.Damage));
        Assert.InRange(analysis.Loudness!.Integrated!.Value, -20, -5);
        Assert.InRange(analysis.Loudness.TruePeak, 0.3, 1);
        foreach (var (index, target) in StandardTargets.BuiltIn.Index())
            await worker.ProveAsync(path, worker.Folder[$"no value {bad} {index}"], target);
    }
}
