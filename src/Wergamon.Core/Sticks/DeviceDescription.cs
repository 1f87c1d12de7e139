using System.Text.Json.Serialization;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Aac;
using Wergamon.Core.Formats.Aiff;
using Wergamon.Core.Formats.Alac;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Formats.Mp3;
using Wergamon.Core.Formats.Opus;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Formats.Vorbis;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Naming;
using Wergamon.Core.Planning;

namespace Wergamon.Core.Sticks;

/// <summary>Which file system a device reads.</summary>
public enum StickFileSystem
{
    Fat32,
    ExFat,
    Other,
}

/// <summary>How a device finds the order of the files in a folder.</summary>
public enum PlayOrder
{
    ByName,

    /// <summary>In the order of the directory entries, which is that of writing.</summary>
    ByWriting,
}

/// <summary>How files are arranged on a stick.</summary>
public enum StickLayout
{
    /// <summary>A folder for each list, with its tracks numbered in order.</summary>
    FolderPerList,

    /// <summary>Each track once, by artist and album; lists are playlists.</summary>
    ByAlbum,
}

/// <summary>What a device can play and how it wants its files: what a stick for it is planned by.</summary>
/// <param name="Key">Identifies the description in addresses and in the database.</param>
/// <param name="Name">As people read it: "Car radio".</param>
/// <param name="Encoder">What files are made of that it cannot play as they are.</param>
public sealed record DeviceDescription(string Key, string Name, EncoderSettings Encoder)
{
    private const int MaxName = 60, MinNameCharacters = 16;

    /// <summary>Keys of the formats that it plays besides that of <see cref="Encoder"/>.</summary>
    public IReadOnlyList<string> Plays { get; init; } = [];

    /// <summary>The highest bitrate of lossy files; null for any.</summary>
    public int? MaxKilobits { get; init; }

    /// <summary>Null for any.</summary>
    public SampleRate? HighestRate { get; init; }

    /// <summary>Null for any.</summary>
    public int? MaxBits { get; init; }

    public bool PlaysSurround { get; init; }

    /// <summary>True where files that it can play are copied as they are, with their tags and pictures.</summary>
    public bool KeepsTags { get; init; }

    /// <summary>Null for all pictures as they are.</summary>
    public ArtworkRule? Artwork { get; init; }

    /// <summary>As <see cref="Target.Id3v2Version"/>.</summary>
    public int? Id3v2Version { get; init; }

    /// <summary>UTF-16 units that it shows or takes of one name, extension included.</summary>
    public int MaxNameCharacters { get; init; } = NameLimits.Common.MaxCharacters;

    public StickFileSystem FileSystem { get; init; }

    public PlayOrder Order { get; init; }

    public StickLayout Layout { get; init; }

    public bool HasPlaylists { get; init; }

    /// <summary>How files are named, as <see cref="NamePattern"/> has it; null for the usual way of the layout.</summary>
    public string? Names { get; init; }

    [JsonIgnore]
    public FileSystemRules Rules => FileSystem switch
    {
        StickFileSystem.Fat32 => FileSystemRules.Fat32,
        StickFileSystem.ExFat => FileSystemRules.ExFat,
        _ => FileSystemRules.Other,
    };

    /// <summary>The pattern that files are named by.</summary>
    [JsonIgnore]
    public string Pattern => Names ?? (Layout == StickLayout.FolderPerList ? NumberedNames : TrackPath.UsualNames);

    /// <summary>For the files of a list in one folder.</summary>
    public const string NumberedNames = "{track:000} {artist} - {title}";

    /// <summary>"MP3 up to 320 kbit/s, FLAC; by order of writing".</summary>
    [JsonIgnore]
    public string Summary =>
        string.Join(", ", FormatsPlayed.Select(format => format.Name)) + (HighestRate is { } rate ? $", {rate} at most" : "")
        + (
            Layout == StickLayout.FolderPerList
                ? "; a folder for each list, " + (Order == PlayOrder.ByName ? "by name" : "in the order of writing")
                : "; by album, with playlists");

    /// <summary>The formats that it plays, in the usual order.</summary>
    [JsonIgnore]
    public IReadOnlyList<WritableFormat> FormatsPlayed => [.. FileFormats.Writable.Where(CanPlay)];

    /// <summary>What is wrong with a description that came from outside, in words; null where nothing is.</summary>
    [JsonIgnore]
    public string? Problem =>
        string.IsNullOrWhiteSpace(Name) || Name.Length > MaxName ? $"A device needs a name of at most {MaxName} characters."
        : Encoder is not { IsValid: true } ? "The quality of this device's files is outside what their format has."
        : Plays is null || Plays.Any(key => FileFormats.Find(key) is not WritableFormat)
            ? "This device plays a format that is not known here."
        : MaxKilobits is < 32 or > 100_000 ? "The highest bitrate of this device is outside 32 to 100,000 kbit/s."
        : HighestRate is { Hertz: < 8_000 or > 768_000 } ? "The highest sample rate of this device is outside 8 to 768 kHz."
        : MaxBits is < 8 or > 32 ? "The bit depth of this device is outside 8 to 32."
        : Artwork is { MaxSize: < 16 or > 10_000 } ? "The artwork size of this device is outside 16 to 10,000 pixels."
        : Id3v2Version is not (null or 3 or 4) ? "This device asks for a version of ID3v2 that is not written."
        : MaxNameCharacters < MinNameCharacters || MaxNameCharacters > NameLimits.Common.MaxCharacters
            ? $"The length of names of this device is outside {MinNameCharacters} to {NameLimits.Common.MaxCharacters} characters."
        : !Enum.IsDefined(FileSystem) || !Enum.IsDefined(Order) || !Enum.IsDefined(Layout) ? "This device has an unknown option."
        : Names is null ? null
        : NamePattern.Parse(Names).Problem;

    /// <summary>What a file is made for: one that the device plays stays in its format, and lossy sound as it is.</summary>
    public Target TargetFor(AudioFacts source)
    {
        var own = FileFormats.Writable.FirstOrDefault(format => format.CanCarry(source))
            ?? FileFormats.Writable.FirstOrDefault(format => format == source.FileFormat && format.Name == source.CodecName);
        bool isPlayed = own is not null && CanPlay(own) && (source.IsLossless || FitsAsItIs(source));
        return new Target(Key, Name, isPlayed && own != Encoder.Format ? own!.UsualSettings : Encoder)
        {
            HighestRate = HighestRate,
            MaxBits = MaxBits,
            Channels = PlaysSurround ? ChannelChoice.AsSource : ChannelChoice.AtMostStereo,
            Artwork = Artwork,
            Id3v2Version = Id3v2Version,
            Names = Pattern,
            EncodesAgain = !isPlayed && !source.IsLossless,
            KeepsAnyBitrate = isPlayed,
            ExcludedFromLibrary = true,
        };
    }

    /// <summary>A path whose names are no longer than the device takes.</summary>
    /// <param name="path">With '/' between its parts.</param>
    public string Fit(string path)
    {
        var limits = new NameLimits(MaxNameCharacters);
        var parts = path.Split('/');
        return string.Join('/', parts.Select((part, i) => part.Length <= MaxNameCharacters ? part
            : i < parts.Length - 1 ? SafeFileName.From(part, limits: limits)
            : SafeFileName.From(Path.GetFileNameWithoutExtension(part), Path.GetExtension(part), limits: limits)));
    }

    /// <summary>The descriptions that every library starts with. What such devices can do is common practice, no source.</summary>
    public static IReadOnlyList<DeviceDescription> BuiltIn { get; } =
    [
        new("mp3-player", "Plain MP3 player", Mp3Settings.Constant(256))
        {
            MaxKilobits = 320,
            HighestRate = new SampleRate(48_000),
            Artwork = new ArtworkRule(ArtworkChoice.FrontOnly, 300),
            MaxNameCharacters = 120,
            Order = PlayOrder.ByWriting,
        },
        new("car-radio", "Car radio", Mp3Settings.Constant(256))
        {
            Plays = [AacFormat.Instance.Key],
            MaxKilobits = 320,
            HighestRate = new SampleRate(48_000),
            Artwork = new ArtworkRule(ArtworkChoice.FrontOnly, 500),
            MaxNameCharacters = 120,
        },
        new("dj-decks", "DJ decks", new AiffSettings())
        {
            Plays = [Mp3Format.Instance.Key, AacFormat.Instance.Key, WavFormat.Instance.Key, FlacFormat.Instance.Key],
            HighestRate = new SampleRate(48_000),
            MaxBits = 24,
            Artwork = new ArtworkRule(ArtworkChoice.FrontOnly, 800),
            Layout = StickLayout.ByAlbum,
            HasPlaylists = true,
        },
        new("phone", "Phone", new AacSettings(256))
        {
            Plays = [
                Mp3Format.Instance.Key, AlacFormat.Instance.Key, FlacFormat.Instance.Key, OpusFormat.Instance.Key,
                VorbisFormat.Instance.Key, WavFormat.Instance.Key
            ],
            HighestRate = new SampleRate(96_000),
            KeepsTags = true,
            FileSystem = StickFileSystem.ExFat,
            Layout = StickLayout.ByAlbum,
            HasPlaylists = true,
        },
    ];

    private bool CanPlay(WritableFormat format) => format == Encoder.Format || Plays.Contains(format.Key);

    private bool FitsAsItIs(AudioFacts source) =>
        !(source.KilobitsPerSecond > MaxKilobits) && !(source.Format.Rate.Hertz > HighestRate?.Hertz)
            && (PlaysSurround || source.Format.Channels <= 2);
}
