using System.Text.Json.Serialization;
using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Steps;
using Wergamon.Core.Discs.Surround;

namespace Wergamon.App.Intake;

/// <summary>What a person has chosen for the titles of a surround disc.</summary>
public sealed record SurroundChoice
{
    /// <summary>The loudspeaker of each channel, where it was changed, by title number.</summary>
    public IReadOnlyDictionary<int, IReadOnlyList<ChannelRoles>> Roles { get; init; } = new Dictionary<int, IReadOnlyList<ChannelRoles>>();

    /// <summary>Decibels below full; 3.01 is the 0.7071 of the standard.</summary>
    public double CentreDown { get; init; } = StandardDown;

    public double SurroundDown { get; init; } = StandardDown;

    /// <summary>Null leaves the low-frequency channel out.</summary>
    public double? LowFrequencyDown { get; init; }

    public bool MakesStereo { get; init; } = true;

    public bool MakesAllChannels { get; init; }

    public string? OutputFolder { get; init; }

    public const double StandardDown = 3.01;

    [JsonIgnore]
    public DownmixLevels Levels => new(Linear(CentreDown), Linear(SurroundDown), LowFrequencyDown is { } down ? Linear(down) : 0);

    public IReadOnlyList<ChannelRoles> RolesOf(SurroundTitle title) =>
        Roles.TryGetValue(title.Number, out var changed) && changed.Count == title.Channels ? changed : title.Roles;

    /// <summary>The standard's coefficient is the root of one half and no rounding of it.</summary>
    private static double Linear(double down) => down == StandardDown ? Math.Sqrt(0.5) : Math.Pow(10, -down / 20);
}
