using System.Text.Json;

namespace Wergamon.App.Intake;

/// <summary>A rip: the run it is, the disc and the drive.</summary>
public sealed record RipRow
{
    public long RunId { get; init; }

    public long DiscId { get; init; }

    /// <summary>The letter of the drive.</summary>
    public string Drive { get; init; } = "";

    public string Settings { get; init; } = "";

    public RipSettings ReadSettings() => JsonSerializer.Deserialize(Settings, IntakeJson.Default.RipSettings) ?? new RipSettings();
}
