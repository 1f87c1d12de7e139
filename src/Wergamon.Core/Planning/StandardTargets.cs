using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Aac;
using Wergamon.Core.Formats.Aiff;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Formats.Mp3;
using Wergamon.Core.Formats.Opus;
using Wergamon.Core.Formats.Wav;

namespace Wergamon.Core.Planning;

/// <summary>The targets that the application brings along.</summary>
public static class StandardTargets
{
    /// <summary>One lossless file of a whole disc, with a cue sheet beside it.</summary>
    public static Target WholeDisc { get; } = new("whole-disc", "Whole disc", new FlacSettings());

    /// <summary>What an audio disc takes: 44.1 kHz, 16-bit, stereo (IEC 60908).</summary>
    public static Target BurnedDisc { get; } = new("burned-disc", "Audio disc", new WavSettings())
    {
        Rate = SampleRate.AudioDisc,
        Bits = 16,
        Channels = ChannelChoice.Stereo,
        EncodesAgain = true
    };

    /// <summary>Surround sound downmixed to stereo, at the source's own rate and depth.</summary>
    public static Target StereoDownmix { get; } = new(
        "stereo-fold", "Stereo", new FlacSettings())
    { Channels = ChannelChoice.AtMostStereo };

    /// <summary>Surround sound with all its channels.</summary>
    public static Target AllChannels { get; } = new("all-channels", "All channels", new FlacSettings());

    /// <summary>The targets that every library starts with.</summary>
    public static IReadOnlyList<Target> BuiltIn { get; } =
    [
        new("archive", "Archive", new FlacSettings()),
        new("pocket-player", "Pocket player", Mp3Settings.Constant(256)) { HighestRate = SampleRate.AudioDisc },
        new("dj-stick", "DJ stick", new AiffSettings()) { MaxBits = 24 },
        new("plain", "Plain", new WavSettings()),
        new("phone", "Phone", new AacSettings(256)) { HighestRate = new SampleRate(48_000), Channels = ChannelChoice.AtMostStereo },
        new("small-share", "Small share", new OpusSettings(96)) { Channels = ChannelChoice.AtMostStereo },
        new("car", "Car", Mp3Settings.Constant(192))
        {
            HighestRate = SampleRate.AudioDisc,
            Channels = ChannelChoice.AtMostStereo,
            Artwork = new ArtworkRule(ArtworkChoice.FrontOnly, 500),
            Names = """{album artist or artist} - {album}/{disc "-"}{track:00} {title}""",
        },
        new("audio-disc", "Audio disc", new WavSettings())
        {
            Rate = SampleRate.AudioDisc, Bits = 16, Channels = ChannelChoice.AtMostStereo
        },
    ];
}
