using System.Globalization;
using System.Text.Json.Serialization;
using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Steps;
using Wergamon.Core.Formats;
using Wergamon.Core.Naming;

namespace Wergamon.Core.Planning;

/// <summary>What copies are made for, with everything that follows from it.</summary>
/// <param name="Key">Identifies the target in addresses and in the database.</param>
/// <param name="Name">As people read it: "Pocket player".</param>
/// <param name="Encoder">In which format, and how.</param>
public sealed record Target(string Key, string Name, EncoderSettings Encoder)
{
    private const int MaxName = 60;

    /// <summary>Sources above this rate are resampled; null keeps every rate that the format can hold.</summary>
    public SampleRate? HighestRate { get; init; }

    /// <summary>All sources are brought to this rate, also from below; null for <see cref="HighestRate"/> alone.</summary>
    public SampleRate? Rate { get; init; }

    /// <summary>Sources with more bits are requantised; null keeps all that the format can hold.</summary>
    public int? MaxBits { get; init; }

    /// <summary>All copies have this many bits; null for <see cref="MaxBits"/> alone.</summary>
    public int? Bits { get; init; }

    public ChannelChoice Channels { get; init; }

    /// <summary>Null leaves the level alone.</summary>
    public LevelRule? Level { get; init; }

    /// <summary>Samples of zero at the start and the end are left out.</summary>
    public bool TrimsSilence { get; init; }

    /// <summary>Null for no fade.</summary>
    public FadeTimes? Fade { get; init; }

    /// <summary>How bits are taken away.</summary>
    public Dither Dither { get; init; }

    /// <summary>What happens when the name of a copy is taken.</summary>
    [JsonPropertyName("ifExists")]
    public ConflictRule OnConflict { get; init; } = ConflictRule.KeepBoth;

    public OutputLocation Place { get; init; }

    /// <summary>What happens to sources once their copies are proved.</summary>
    [JsonPropertyName("originals")]
    public SourceDisposition Sources { get; init; }

    /// <summary>True when copies are only files: the library does not list them.</summary>
    [JsonPropertyName("staysOutOfLibrary")]
    public bool ExcludedFromLibrary { get; init; }

    /// <summary>Version of ID3v2 where the format has such tags: 4, or null for 3, which the most players read.</summary>
    public int? Id3v2Version { get; init; }

    /// <summary>Null for all pictures as they are.</summary>
    public ArtworkRule? Artwork { get; init; }

    /// <summary>How copies and their folders are named, as <see cref="Naming.NamePattern"/> has it; null for the usual way.</summary>
    public string? Names { get; init; }

    /// <summary>Sound that already is as the target wants it is encoded nevertheless.</summary>
    public bool EncodesAgain { get; init; }

    /// <summary>Sound in the target's format is kept however much more than the target's its bitrate is.</summary>
    public bool KeepsAnyBitrate { get; init; }

    public WritableFormat Format => Encoder.Format;

    /// <summary>What is wrong with a target that came from outside, in words; null where nothing is.</summary>
    [JsonIgnore]
    public string? Problem =>
        string.IsNullOrWhiteSpace(Name) || Name.Length > MaxName ? $"A target needs a name of at most {MaxName} characters."
        : Encoder is not { IsValid: true } ? "The quality of this target is outside what its format has."
        : (Rate ?? HighestRate ?? SampleRate.AudioDisc).Hertz is < 8_000 or > 768_000
            ? "The sample rate of this target is outside 8 to 768 kHz."
        : (Bits ?? MaxBits ?? 16) is < 8 or > 32 ? "The bit depth of this target is outside 8 to 32."
        : Artwork is { MaxSize: < 16 or > 10_000 } ? "The artwork size of this target is outside 16 to 10,000 pixels."
        : !Enum.IsDefined(Channels) || !Enum.IsDefined(Dither) || !Enum.IsDefined(Place) || !Enum.IsDefined(Sources)
                || !Enum.IsDefined(OnConflict)
            ? "This target has an unknown option."
        : Id3v2Version is not (null or 3 or 4) ? "This target asks for a version of ID3v2 that is not written."
        : Level?.Problem is { } level ? level
        : Fade is { } fade
                && (
                    fade.In < TimeSpan.Zero || fade.Out < TimeSpan.Zero || fade.In > FadeTimes.Max || fade.Out > FadeTimes.Max
                        || fade.In + fade.Out == TimeSpan.Zero)
            ? "The fades of this target are outside 0 to 60 s."
        : Names is null ? null
        : NamePattern.Parse(Names).Problem;

    public bool IsLossy => Format.IsLossy;

    /// <summary>One line that says what comes out: "MP3 256 kbit/s, 44.1 kHz at most".</summary>
    public string Summary =>
        Key == StandardTargets.WholeDisc.Key ? $"one {Format.Name} with cue sheet"
        : !IsLossy && (Rate is not null || Bits is not null)
            ? Format.Name + (Rate is { } always ? $" {always}" : "")
                + (Bits is { } bits ? string.Create(CultureInfo.InvariantCulture, $" {bits}-bit") : "")
        : Encoder.Summary + (Rate is { } exact ? $", {exact}" : HighestRate is { } rate ? $", {rate} at most" : "");
}
