using Wergamon.Core.Audio;
using Wergamon.Core.Discs;
using Wergamon.Core.Formats;

namespace Wergamon.Core.Planning;

/// <summary>What to do when the name of a new copy is taken.</summary>
public enum IfExists
{
    KeepBoth,
    Skip,
    Replace,
}

/// <summary>What copies are made for, with everything that follows from it.</summary>
/// <param name="Key">Names the target in addresses and in the database.</param>
/// <param name="Name">As people read it: "Pocket player".</param>
/// <param name="Kind">The kind of file to write.</param>
public sealed record Target(string Key, string Name, FileKind Kind)
{
    /// <summary>For MP3 only.</summary>
    public Mp3Quality Mp3 { get; init; } = Mp3Quality.Constant(256);

    /// <summary>0 to 8, for FLAC only. Every level gives the same samples (RFC 9639).</summary>
    public int FlacLevel { get; init; } = 5;

    /// <summary>Sources above this rate are resampled; null keeps every rate that the format can hold.</summary>
    public SampleRate? HighestRate { get; init; }

    /// <summary>Sources with more bits are requantised; null keeps all that the format can hold.</summary>
    public int? MaxBits { get; init; }

    /// <summary>Sources of more than two channels are downmixed, though the format could hold them.</summary>
    public bool DownmixesToStereo { get; init; }

    public IfExists IfExists { get; init; } = IfExists.KeepBoth;

    public string Extension => Kind switch
    {
        FileKind.Flac => ".flac",
        FileKind.Mp3 => ".mp3",
        FileKind.Aiff => ".aiff",
        _ => ".wav",
    };

    public bool IsLossy => Kind == FileKind.Mp3;

    /// <summary>One line that says what comes out: "MP3 256 kbit/s, 44.1 kHz at most".</summary>
    public string Summary => Kind switch
    {
        FileKind.Flac when Key == WholeDisc.Key => "one FLAC with cue sheet",
        FileKind.Flac => "FLAC, as the source",
        FileKind.Mp3 => $"MP3 {Mp3.InWords}" + (HighestRate is { } rate ? $", {rate} at most" : ""),
        FileKind.Aiff => "AIFF, tags inside",
        _ => "WAV, as the source",
    };

    /// <summary>One lossless file of a whole disc, with a cue sheet beside it.</summary>
    public static Target WholeDisc { get; } = new("whole-disc", "Whole disc", FileKind.Flac);

    /// <summary>Surround sound downmixed to stereo, at the source's own rate and depth.</summary>
    public static Target StereoDownmix { get; } = new("stereo-fold", "Stereo", FileKind.Flac) { DownmixesToStereo = true };

    /// <summary>Surround sound with all its channels.</summary>
    public static Target AllChannels { get; } = new("all-channels", "All channels", FileKind.Flac);

    /// <summary>The targets that every library starts with.</summary>
    public static IReadOnlyList<Target> BuiltIn { get; } =
    [
        new("archive", "Archive", FileKind.Flac),
        new("pocket-player", "Pocket player", FileKind.Mp3) { HighestRate = SampleRate.AudioDisc },
        new("dj-stick", "DJ stick", FileKind.Aiff) { MaxBits = 24 },
        new("plain", "Plain", FileKind.Wav),
    ];
}
