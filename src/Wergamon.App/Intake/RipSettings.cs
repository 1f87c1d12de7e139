using System.Text.Json.Serialization;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Reading;
using Wergamon.Core.Planning;

namespace Wergamon.App.Intake;

/// <summary>Settings of a rip: targets and reading.</summary>
public sealed record RipSettings
{
    /// <summary>Keys of the targets, in the order chosen.</summary>
    public IReadOnlyList<string> Targets { get; init; } = ["archive"];

    public bool IsCareful { get; init; } = true;

    public bool HasSecondReading { get; init; }

    public Pauses Pauses { get; init; } = Pauses.WithTrackBefore;

    public bool EjectWhenDone { get; init; }

    /// <summary>Where the copies go; null for the application's own folder for ripped music.</summary>
    public string? OutputFolder { get; init; }

    /// <summary>How all copies are named, as a pattern; null to name them as each target does.</summary>
    public string? Names { get; init; }

    /// <summary>A target with the names chosen here.</summary>
    public Target Named(Target target) => Names is null ? target : target with { Names = Names };

    [JsonIgnore]
    public ReadingSettings Reading => new() { IsCareful = IsCareful, HasSecondReading = HasSecondReading };
}

/// <summary>What happens automatically when a disc is inserted.</summary>
public sealed record DiscChoice(bool ReadsByItself, RipSettings Settings);
