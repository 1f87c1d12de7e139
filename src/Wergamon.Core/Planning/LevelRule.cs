using System.Globalization;
using System.Text.Json.Serialization;
using Wergamon.Core.Audio;

namespace Wergamon.Core.Planning;

public enum LevelKind
{
    /// <summary>Lowered where resampling or a downmix would clip, otherwise left.</summary>
    AvoidClipping,

    /// <summary>To <see cref="LevelRule.Loudness"/>, or as close to it as the ceiling allows.</summary>
    Loudness,

    /// <summary>So that the true peak is at the ceiling.</summary>
    Peak,
}

/// <summary>How the level of copies is set.</summary>
public sealed record LevelRule(LevelKind Kind)
{
    /// <summary>A smaller change cannot be heard and leaves the samples alone.</summary>
    private const double LeastDecibels = 0.05;

    /// <summary>In LUFS.</summary>
    public double Loudness { get; init; } = -14;

    /// <summary>The highest true peak, in dBTP.</summary>
    public double Ceiling { get; init; } = -1;

    /// <summary>One gain for all tracks of an album, so that their differences stay.</summary>
    public bool AlbumAsOne { get; init; }

    /// <summary>True when the gain of a track follows from what is measured of it.</summary>
    [JsonIgnore]
    public bool NeedsMeasuring => Kind != LevelKind.AvoidClipping;

    [JsonIgnore]
    public string? Problem =>
        !Enum.IsDefined(Kind) ? "The level of this target is of an unknown kind."
        : Loudness is not (>= -60 and <= 0) ? "The loudness of this target is outside -60 to 0 LUFS."
        : Ceiling is not (>= -30 and <= 0) ? "The ceiling of this target is outside -30 to 0 dBTP."
        : null;

    /// <summary>Gain in dB; 0 for silence, and where the level already is right.</summary>
    /// <param name="integrated">Of the track, or of its album, in LUFS; null for silence.</param>
    /// <param name="truePeak">Of the track, or the highest of its album, linear.</param>
    public double GainFor(double? integrated, double truePeak)
    {
        if (!NeedsMeasuring || truePeak <= 0 || Kind == LevelKind.Loudness && integrated is null)
            return 0;
        double room = Ceiling - Decibels.FromGain(truePeak);
        double gain = Kind == LevelKind.Peak ? room : Math.Min(room, Loudness - integrated!.Value);
        return Math.Abs(gain) < LeastDecibels ? 0 : gain;
    }

    /// <summary>"-14 LUFS, albums as one".</summary>
    public override string ToString() => Goal + (AlbumAsOne && NeedsMeasuring ? ", albums as one" : "");

    /// <summary>"-14 LUFS", "-1 dBTP".</summary>
    [JsonIgnore]
    public string Goal => Kind switch
    {
        LevelKind.Loudness => string.Create(CultureInfo.InvariantCulture, $"{Loudness:0.#} LUFS"),
        LevelKind.Peak => string.Create(CultureInfo.InvariantCulture, $"{Ceiling:0.#} dBTP"),
        _ => "lowered where it would clip",
    };
}
