using System.Text.Json;
using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Steps;

namespace Wergamon.App.Deliver.Files;

/// <summary>How tracks become one long file.</summary>
public sealed record JoinedSettings
{
    public const double MaxGapSeconds = 60, MaxCrossfadeSeconds = 30;

    /// <summary>Times of cue sheets are counted in these (IEC 60908).</summary>
    private const int CueUnitsPerSecond = Core.Discs.AudioDisc.SectorsPerSecond;

    public string TargetKey { get; init; } = "archive";

    public string Artist { get; init; } = "";

    /// <summary>0 for gapless.</summary>
    public double GapSeconds { get; init; }

    /// <summary>0 for none; of no effect where there are gaps.</summary>
    public double CrossfadeSeconds { get; init; }

    /// <summary>Where the file goes; null for the application's own folder.</summary>
    public string? Folder { get; init; }

    /// <summary>True for a track of the library like any other.</summary>
    public bool IsInLibrary { get; init; }

    /// <summary>
    /// The rules in frames of a rate. With gaps, tracks begin at times that a cue sheet can name, where the rate has whole frames for them.
    /// </summary>
    public JoinRules RulesAt(SampleRate rate) => new(
        (long)Math.Round(GapSeconds * rate.Hertz), (long)Math.Round(CrossfadeSeconds * rate.Hertz),
        rate.Hertz % CueUnitsPerSecond == 0 ? rate.Hertz / CueUnitsPerSecond : 1);

    public static JoinedSettings Of(DeliveryRow row) =>
        JsonSerializer.Deserialize(row.Settings, FilesJson.Default.JoinedSettings) ?? new JoinedSettings();

    public string ToJson() => JsonSerializer.Serialize(this, FilesJson.Default.JoinedSettings);
}
