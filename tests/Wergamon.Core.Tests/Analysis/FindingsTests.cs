using Wergamon.Core.Analysis.Findings;
using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Resampling;
using Wergamon.Core.Audio.Steps;
using Wergamon.Core.Tests.Analysis.Comparing;
using Wergamon.Testing;

namespace Wergamon.Core.Tests.Analysis;

/// <summary>What is found in sounds that were spoilt on purpose, and that nothing is found in sound ones.</summary>
public sealed class FindingsTests
{
    private const int Rate = 44_100, Frames = 8 * Rate;

    private static readonly PcmFormat Format = new(SampleRate.AudioDisc, 2, 16);

    [Fact]
    public void Intact_music_has_no_findings() => Assert.Empty(Find(Format, Music));

    [Fact]
    public void Lossy_format_is_not_reported_as_made_from_lossy() =>
        Assert.Empty(
            SoundInspector.Inspect(
                new ResamplingReader(Sound(Format with { Rate = new SampleRate(32_000) }, Music), Format.Rate), isLossless: false,
                _ => { }).Findings);

    [Fact]
    public void Padded_bits_are_certain()
    {
        var finding = Assert.Single(
            Find(Format with { Bits = 24 }, (frame, channel) => Math.Round(Music(frame, channel) * 32_768) / 32_768));
        Assert.Equal(
            (FindingKind.PaddedBits, Sureness.Certain, "The lowest 8 of 24 bits are zero in every sample.",
                "16 bits hold all of it without loss."),
            (finding.Kind, finding.Sureness, finding.Measured, finding.Why));
    }

    [Fact]
    public void An_empty_top_of_a_high_rate_is_upsampling()
    {
        using var reader = new RequantisingReader(
            new ResamplingReader(
                Sound(Format, (frame, channel) => Music(frame, channel) + 0.02 * Sweeps.Noise(2L * frame + channel)),
                new SampleRate(96_000)),
            24);
        var finding = Assert.Single(SoundInspector.Inspect(reader, true, _ => { }).Findings);
        Assert.Equal((FindingKind.Upsampled, 22_050.0), (finding.Kind, finding.Hertz));
    }

    [Theory]
    [InlineData(1.0, FindingKind.MonoInStereo, Sureness.Certain)]
    [InlineData(-1.0, FindingKind.OutOfPhase, Sureness.Certain)]
    public void Similar_channels_are_reported(double right, FindingKind kind, Sureness sureness)
    {
        var finding = Assert.Single(Find(Format, (frame, channel) => Music(frame, 0) * (channel == 1 ? right : 1)));
        Assert.Equal((kind, sureness), (finding.Kind, finding.Sureness));
    }

    [Fact]
    public void Misplaced_low_frequency_channel_is_reported()
    {
        var surround = new PcmFormat(SampleRate.AudioDisc, 6, 16);
        Finding[] Of(int deep) =>
            Find(surround, (frame, channel) => channel == deep ? 0.4 * Math.Sin(2 * Math.PI * 50 * frame / Rate) : Music(frame, channel));
        Assert.Empty(Of(3));
        Assert.Equal(FindingKind.ChannelOrder, Assert.Single(Of(2)).Kind);
    }

    [Fact]
    public void Flat_peaks_are_clipped_and_square_waves_are_not()
    {
        var clipped = Assert.Single(Find(Format, (frame, channel) => Math.Clamp(4 * Music(frame, channel), -1, 1)));
        Assert.Equal((FindingKind.Clipped, Sureness.Certain), (clipped.Kind, clipped.Sureness));
        Assert.Contains("clipped at full scale", clipped.Why, StringComparison.Ordinal);
        var pressed = Assert.Single(Find(Format, (frame, channel) => Math.Clamp(4 * Music(frame, channel), -0.9, 0.9)));
        Assert.Contains("at -0.9 dBFS", pressed.Measured, StringComparison.Ordinal);
        Assert.DoesNotContain(
            Find(Format, (frame, _) => 0.9 * Math.Sign(Math.Sin(2 * Math.PI * 220 * frame / Rate))),
            finding => finding.Kind == FindingKind.Clipped);
    }

    [Fact]
    public void Silence_and_holes_are_distinguished()
    {
        var silent = Assert.Single(Find(Format, (_, _) => 0));
        Assert.Equal("Every sample is zero.", silent.Measured);
        var parts = Assert.Single(Find(Format, (frame, channel) => frame < 3.5 * Rate || frame >= 4.5 * Rate ? 0 : Music(frame, channel)));
        Assert.Equal((FindingKind.Silence, "Digital silence: 3.5 s at the start, 3.5 s at the end."), (parts.Kind, parts.Measured));
        var hole = Assert.Single(
            Find(Format, (frame, channel) => frame is >= 3 * Rate and < 3 * Rate + 441 ? 0 : Music(frame, channel)),
            finding => finding.Kind == FindingKind.Dropout);
        Assert.Contains("once, first at 0:03.0 for 10 ms", hole.Measured, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(1, Sureness.Unsure)]
    [InlineData(12, Sureness.Likely)]
    public void Single_samples_out_of_line_are_clicks(int clicks, Sureness sureness)
    {
        var finding = Assert.Single(
            Find(
                Format,
                (frame, channel) => Music(frame, channel)
                    + (channel == 0 && frame % 25_000 == 20_000 && frame / 25_000 < clicks ? 0.4 : 0)));
        Assert.Equal((FindingKind.Clicks, sureness), (finding.Kind, finding.Sureness));
        Assert.Equal(20_000.0 / Rate, finding.Seconds!.Value, 0.02);
    }

    [Fact]
    public void Empty_file_has_no_findings() => Assert.Empty(SoundInspector.Inspect(Sound(Format, Music, 0), true, _ => { }).Findings);

    private static double Music(int frame, int channel) =>
        Sweeps.At((double)frame / Rate, channel) + 0.001 * Sweeps.Noise(2L * frame + channel);

    private static Finding[] Find(PcmFormat format, Func<int, int, double> sample) =>
        [.. SoundInspector.Inspect(Sound(format, sample), true, _ => { }).Findings];

    private static TestSound Sound(
        PcmFormat format, Func<int, int, double> sample, int frames = Frames) => new(format, frames, (block, start) =>
    {
        double scale = 1L << (format.Bits - 1);
        for (int i = 0; i < block.Integers.Length; i++)
            block.Integers[i] = (int)Math.Clamp(
                Math.Round(scale * sample((int)start + i / format.Channels, i % format.Channels)), -scale, scale - 1);
    });
}
