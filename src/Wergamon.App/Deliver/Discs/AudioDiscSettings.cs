using System.Text.Json;
using System.Text.Json.Serialization;
using Wergamon.Core.Audio.Steps;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Burning;
using Wergamon.Core.Planning;

namespace Wergamon.App.Deliver.Discs;

public enum DiscLevel
{
    AsItIs,

    /// <summary>One gain for all tracks, so that their relative levels are kept.</summary>
    DiscAsOne,

    /// <summary>Each track to the same loudness.</summary>
    EachTrack,

    /// <summary>Each track to the same true peak.</summary>
    Peak,
}

/// <summary>How an audio disc is made.</summary>
public sealed record AudioDiscSettings
{
    public const double MaxPauseSeconds = 60, MaxFadeSeconds = 30;

    public const int MaxCopies = 20;

    /// <summary>Of the whole disc.</summary>
    public string Artist { get; init; } = "";

    /// <summary>As typed; empty for none.</summary>
    public string CatalogueNumber { get; init; } = "";

    /// <summary>Silence before each track but the first; 0 for gapless.</summary>
    public double PauseSeconds { get; init; }

    public bool IsFirstHidden { get; init; }

    public DiscLevel Level { get; init; }

    /// <summary>In LUFS.</summary>
    public double Loudness { get; init; } = -14;

    /// <summary>In dBTP.</summary>
    public double Ceiling { get; init; } = -1;

    public double FadeInSeconds { get; init; }

    public double FadeOutSeconds { get; init; }

    public bool HasText { get; init; } = true;

    /// <summary>The blank that the disc is planned for while no burner holds one.</summary>
    public string BlankKey { get; init; } = "blank-80";

    public string Burner { get; init; } = "C";

    /// <summary>0 for the highest.</summary>
    public int Speed { get; init; }

    public int Copies { get; init; } = 1;

    public bool IsTrial { get; init; }

    public bool LeavesOpen { get; init; }

    public bool IsVerified { get; init; } = true;

    /// <summary>Where images go; null for the application's own folder.</summary>
    public string? ImageFolder { get; init; }

    /// <summary>The sound that a disc takes, with the person's settings.</summary>
    [JsonIgnore]
    public Target Target => StandardTargets.BurnedDisc with
    {
        Level = Level switch
        {
            DiscLevel.DiscAsOne => new LevelRule(LevelKind.Loudness) { Loudness = Loudness, Ceiling = Ceiling, AlbumAsOne = true },
            DiscLevel.EachTrack => new LevelRule(LevelKind.Loudness) { Loudness = Loudness, Ceiling = Ceiling },
            DiscLevel.Peak => new LevelRule(LevelKind.Peak) { Ceiling = Ceiling },
            _ => new LevelRule(LevelKind.AvoidClipping),
        },
        Fade = FadeInSeconds + FadeOutSeconds > 0
            ? new FadeTimes(TimeSpan.FromSeconds(FadeInSeconds), TimeSpan.FromSeconds(FadeOutSeconds))
            : null,
    };

    [JsonIgnore]
    public BurnOptions Options => new(SectorsOf(PauseSeconds)) { IsFirstHidden = IsFirstHidden };

    /// <summary>Whole sectors of silence.</summary>
    internal static int SectorsOf(double seconds) => (int)Math.Round(seconds * AudioDisc.SectorsPerSecond);

    public static AudioDiscSettings Of(DeliveryRow row) =>
        JsonSerializer.Deserialize(row.Settings, DiscRunsJson.Default.AudioDiscSettings) ?? new AudioDiscSettings();

    public string ToJson() => JsonSerializer.Serialize(this, DiscRunsJson.Default.AudioDiscSettings);
}
