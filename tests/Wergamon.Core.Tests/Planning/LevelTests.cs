using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Tests.Planning;

/// <summary>Rules of targets for level, channels and word length.</summary>
public sealed class LevelTests
{
    private static readonly Target Own = new("own", "Own", new FlacSettings());

    /// <summary>Gains in dB from a loudness in LUFS and a true peak in dBTP.</summary>
    [Theory]
    [InlineData(LevelKind.Loudness, -14, -1, -18.0, -6.0, 4)]
    [InlineData(LevelKind.Loudness, -14, -1, -18.0, -3.0, 2)]
    [InlineData(LevelKind.Loudness, -14, -1, -9.0, 0.5, -5)]
    [InlineData(LevelKind.Loudness, -14, -1, -14.02, -6.0, 0)]
    [InlineData(LevelKind.Loudness, -14, -1, null, -60.0, 0)]
    [InlineData(LevelKind.Peak, -14, -1, -20.0, -7.5, 6.5)]
    [InlineData(LevelKind.Peak, -14, -0.5, -8.0, 1.0, -1.5)]
    [InlineData(LevelKind.AvoidClipping, -14, -1, -8.0, 1.0, 0)]
    public void A_gain_reaches_its_goal_below_the_ceiling(
        LevelKind kind, double loudness, double ceiling, double? integrated, double truePeak, double wanted) =>
        Assert.Equal(
            wanted, new LevelRule(kind) { Loudness = loudness, Ceiling = ceiling }.GainFor(integrated, Decibels.ToGain(truePeak)), 1e-9);

    /// <summary>Each step as "label fidelity"; the source is stereo unless the choice says more.</summary>
    [Theory]
    [InlineData(ChannelChoice.AsSource, 6, "FLAC 24-bit E")]
    [InlineData(ChannelChoice.AtMostStereo, 1, "FLAC 24-bit E")]
    [InlineData(ChannelChoice.Stereo, 1, "mono to both sides E, FLAC 24-bit E")]
    [InlineData(ChannelChoice.Stereo, 6, "downmix to stereo R, to 24-bit R, FLAC 24-bit E")]
    [InlineData(ChannelChoice.Mono, 2, "to mono R, to 24-bit R, FLAC 24-bit E")]
    [InlineData(ChannelChoice.Mono, 1, "FLAC 24-bit E")]
    [InlineData(ChannelChoice.Left, 2, "left only R, FLAC 24-bit E")]
    [InlineData(ChannelChoice.Right, 6, "downmix to stereo R, right only R, to 24-bit R, FLAC 24-bit E")]
    [InlineData(ChannelChoice.Swapped, 6, "sides swapped E, FLAC 24-bit E")]
    [InlineData(ChannelChoice.Swapped, 1, "FLAC 24-bit E")]
    public void Channels_follow_the_choice(ChannelChoice choice, int channels, string expected) =>
        Assert.Equal(expected, InWords(RoutePlanner.Plan(Facts(44_100, channels), Fidelity.Exact, Own with { Channels = choice })));

    [Fact]
    public void A_level_is_set_after_resampling_and_only_where_it_is_off()
    {
        var target = Own with { Rate = SampleRate.AudioDisc, Bits = 16, Level = new LevelRule(LevelKind.Loudness) };
        Assert.Equal(
            "48 to 44.1 kHz R, to -14 LUFS R, to 16-bit R, FLAC 16-bit E",
            InWords(RoutePlanner.Plan(Facts(48_000, 2), Fidelity.Exact, target)));
        Assert.Equal(
            "48 to 44.1 kHz R, +3.0 dB R, to 16-bit R, FLAC 16-bit E",
            InWords(RoutePlanner.Plan(Facts(48_000, 2), Fidelity.Exact, target, Known(-17))));
        Assert.Equal("to 16-bit R, FLAC 16-bit E", InWords(RoutePlanner.Plan(Facts(44_100, 2), Fidelity.Exact, target, Known(-14))));
        // What a downmix will sound like is not known before it is made.
        Assert.Equal(
            "downmix to stereo R, to -14 LUFS R, to 16-bit R, FLAC 16-bit E",
            InWords(RoutePlanner.Plan(Facts(44_100, 6), Fidelity.Exact, target with { Channels = ChannelChoice.Stereo }, Known(-17))));
        var album = Known(-17) with { AlbumLevel = new SoundLevel(-15, 0.1) };
        Assert.StartsWith(
            "+1.0 dB",
            InWords(
                RoutePlanner.Plan(
                    Facts(44_100, 2), Fidelity.Exact, target with { Level = target.Level with { AlbumAsOne = true } }, album)),
            StringComparison.Ordinal);
    }

    /// <summary>A file of 24 bits that holds 16 gives them up without dither.</summary>
    [Theory]
    [InlineData(16, "holds 16-bit E, FLAC 16-bit E")]
    [InlineData(12, "holds 12-bit E, FLAC 16-bit E")]
    [InlineData(17, "to 16-bit R, FLAC 16-bit E")]
    [InlineData(24, "to 16-bit R, FLAC 16-bit E")]
    public void Unused_bits_are_dropped_from_any_format(int realBits, string expected) =>
        Assert.Equal(
            expected,
            InWords(
                RoutePlanner.Plan(Facts(44_100, 2), Fidelity.Exact, Own with { MaxBits = 16 }, Known(-14) with { RealBits = realBits })));

    [Theory]
    [InlineData(48_000, 2, 0.8, null, false, PlanWarning.MayClip, "0.8 dB")]
    [InlineData(48_000, 2, 0.8, null, true, PlanWarning.Lowered, "+0.8 dB")]
    [InlineData(44_100, 6, -3.0, 2.3, false, PlanWarning.Lowered, "+2.3 dB")]
    [InlineData(44_100, 2, 0.8, null, false, null, "")]
    [InlineData(48_000, 2, -0.2, null, false, null, "")]
    public void A_plan_says_what_would_clip(
        int rate, int channels, double truePeak, double? downmixPeak, bool avoids, PlanWarning? expected, string figure)
    {
        var target = Own with
        {
            HighestRate = SampleRate.AudioDisc,
            Channels = ChannelChoice.AtMostStereo,
            Level = avoids ? new LevelRule(LevelKind.AvoidClipping) : null
        };
        var known = new KnownSound(
            24, new SoundLevel(-10, Decibels.ToGain(truePeak)), downmixPeak is { } peak ? Decibels.ToGain(peak) : null);
        var source = new PlanSource(1, Facts(rate, channels), Fidelity.Exact, 1000, new TagSet(), TagContents.Empty, 0) { Known = known };
        var note = Planner.Plan([source], target, "/out", _ => null)[0].Notes.SingleOrDefault(
            note => note.Warning is PlanWarning.MayClip or PlanWarning.Lowered);
        Assert.Equal(expected, note?.Warning);
        Assert.Contains(figure, note?.Text ?? "", StringComparison.Ordinal);
    }

    private static KnownSound Known(double loudness) => new(24, new SoundLevel(loudness, 0.25));

    private static string InWords(Route route) =>
        string.Join(", ", route.Steps.Select(step => $"{step.Label} {"ERL"[(int)step.Fidelity]}"));

    private static AudioFacts Facts(int rate, int channels)
    {
        var format = new PcmFormat(new SampleRate(rate), channels, 24);
        return new AudioFacts(FileFormats.Find("wav"), "WAV", format, 441_000, true, (int)(format.BitRate / 1000));
    }
}
