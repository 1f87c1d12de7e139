using Wergamon.Core.Analysis;
using Wergamon.Core.Audio;
using Wergamon.Core.Discs;
using Wergamon.Core.Formats.Flac;
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
}
