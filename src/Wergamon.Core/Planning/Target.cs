using Wergamon.Core.Audio;
using Wergamon.Core.Discs;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Aac;
using Wergamon.Core.Formats.Aiff;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Formats.Mp3;
using Wergamon.Core.Formats.Opus;
using Wergamon.Core.Formats.Wav;

namespace Wergamon.Core.Planning;

/// <summary>What copies are made for, with everything that follows from it.</summary>
/// <param name="Key">Identifies the target in addresses and in the database.</param>
/// <param name="Name">As people read it: "Pocket player".</param>
/// <param name="Encoder">In which format, and how.</param>
public sealed record Target(string Key, string Name, EncoderSettings Encoder)
{
    /// <summary>Sources above this rate are resampled; null keeps every rate that the format can hold.</summary>
    public SampleRate? HighestRate { get; init; }

    /// <summary>Sources with more bits are requantised; null keeps all that the format can hold.</summary>
    public int? MaxBits { get; init; }

    /// <summary>Sources with more than two channels are downmixed even if the format could hold them.</summary>
    public bool DownmixesToStereo { get; init; }

    public IfExists IfExists { get; init; } = IfExists.KeepBoth;

    /// <summary>How copies and their folders are named, as <see cref="Naming.NamePattern"/> has it; null for the usual way.</summary>
    public string? Names { get; init; }

    /// <summary>Sound that already is as the target wants it is encoded nevertheless.</summary>
    public bool EncodesAgain { get; init; }

    public WritableFormat Format => Encoder.Format;

    public bool IsLossy => Format.IsLossy;

    /// <summary>One line that says what comes out: "MP3 256 kbit/s, 44.1 kHz at most".</summary>
    public string Summary => Key == WholeDisc.Key ? $"one {Format.Name} with cue sheet" : Encoder.Summary + (HighestRate is { } rate ? $", {rate} at most" : "");

    /// <summary>One lossless file of a whole disc, with a cue sheet beside it.</summary>
    public static Target WholeDisc { get; } = new("whole-disc", "Whole disc", new FlacSettings());

    /// <summary>Surround sound downmixed to stereo, at the source's own rate and depth.</summary>
    public static Target StereoDownmix { get; } = new("stereo-fold", "Stereo", new FlacSettings()) { DownmixesToStereo = true };

    /// <summary>Surround sound with all its channels.</summary>
    public static Target AllChannels { get; } = new("all-channels", "All channels", new FlacSettings());

    /// <summary>The targets that every library starts with.</summary>
    public static IReadOnlyList<Target> BuiltIn { get; } =
    [
        new("archive", "Archive", new FlacSettings()),
        new("pocket-player", "Pocket player", Mp3Settings.Constant(256)) { HighestRate = SampleRate.AudioDisc },
        new("dj-stick", "DJ stick", new AiffSettings()) { MaxBits = 24 },
        new("plain", "Plain", new WavSettings()),
        new("phone", "Phone", new AacSettings(256)) { HighestRate = new SampleRate(48_000), DownmixesToStereo = true },
        new("small-share", "Small share", new OpusSettings(96)) { DownmixesToStereo = true },
    ];
}
