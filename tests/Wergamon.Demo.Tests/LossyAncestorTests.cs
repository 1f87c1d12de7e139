using Wergamon.Codecs;
using Wergamon.Core.Analysis.Findings;
using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Resampling;
using Wergamon.Core.Audio.Steps;
using Wergamon.Demo.Music;
using Wergamon.Testing;

namespace Wergamon.Demo.Tests;

/// <summary>
/// Whether lossless files are known that were made from lossy ones, by the demo music and real encoders; and that true lossless music, and
/// music that was low-passed for another reason, is not called so.
/// </summary>
public sealed class LossyAncestorTests
{
    private static readonly PcmFormat Format = new(SampleRate.AudioDisc, 2, 16);

    private static readonly Lazy<Piece[]> Pieces = new(
        () => [.. LanternQuarry.Albums.SelectMany(album => album.Tracks).Select(track => track.Piece).Distinct()]);

    [Fact]
    public void True_lossless_music_has_no_findings() =>
        Assert.All(
            Pieces.Value.AsParallel().Select(piece => SoundInspector.Inspect(SoundOf(piece), true, _ => { })),
            inspection => Assert.Empty(inspection.Findings));

    [Theory]
    [InlineData(128)]
    [InlineData(192)]
    [InlineData(320)]
    public void Ancestors_in_mp3_are_found(int kilobitsPerSecond)
    {
        var pieces = Pieces.Value.Index().Where(each => kilobitsPerSecond == 128 || each.Index % 4 == 0).Select(each => each.Item).ToList();
        int found = pieces.AsParallel().Count(piece =>
        {
            using var folder = new TemporaryFolder();
            var path = EncodedFile.Write(folder["a.mp3"], "mp3", "libmp3lame", SoundOf(piece), ("b", $"{kilobitsPerSecond}000"));
            using var reader = new RequantisingReader(AudioFiles.Open(path), 16);
            return SoundInspector.Inspect(reader, true, _ => { }).Findings.Any(finding =>
                finding.Kind == FindingKind.LossyAncestor && finding.Sureness > Sureness.Unsure
                    && $"{finding.Why} {(finding.Sureness == Sureness.Certain ? kilobitsPerSecond : "")}".Contains(
                        $"{kilobitsPerSecond}", StringComparison.Ordinal));
        });
        Assert.True(found >= 0.95 * pieces.Count, $"{found} of {pieces.Count}");
    }

    /// <summary>Music that went through a lower sample rate stops as sharply, but no encoder has cut it.</summary>
    [Theory]
    [InlineData(30_000)]
    [InlineData(32_000)]
    [InlineData(40_000)]
    public void Low_pass_filtered_music_is_inconclusive(int rate) =>
        Assert.All(
            Pieces.Value.Index().Where(each => each.Index % 4 == rate / 1000 % 3).AsParallel().Select(each =>
            {
                using var reader = new RequantisingReader(
                    new ResamplingReader(new ResamplingReader(SoundOf(each.Item), new SampleRate(rate)), Format.Rate), 16);
                return SoundInspector.Inspect(reader, true, _ => { });
            }),
            inspection =>
                Assert.Equal(
                    (FindingKind.LowPassed, Sureness.Unsure),
                    Assert.Single(inspection.Findings.Select(finding => (finding.Kind, finding.Sureness)))));

    private static RequantisingReader SoundOf(Piece piece)
    {
        var lines = Performance.Of(piece, Format.Rate.Hertz, Format.Channels);
        var sound = new TestSound(Format with { Bits = 64, Kind = SampleKind.Float }, lines[0].Length, (block, start) =>
        {
            var samples = block.Doubles;
            for (int i = 0; i < samples.Length; i++)
                samples[i] = lines[i % 2][(int)start + i / 2];
        });
        return new RequantisingReader(sound, Format.Bits);
    }
}
