using System.Globalization;
using System.Text.Json.Serialization;
using Wergamon.Core.Naming;

namespace Wergamon.Core.Jobs;

/// <summary>What was checked on a new copy after reading it back from disk.</summary>
public sealed record Proof
{
    /// <summary>True: every sample was compared. False: the length was compared, since the samples must differ.</summary>
    public bool IsLossless { get; init; }

    /// <summary>Samples of one channel that went into the encoder.</summary>
    public long FramesIn { get; init; }

    /// <summary>Samples of one channel that came out of the finished file.</summary>
    public long FramesOut { get; init; }

    /// <summary>MD5 over all samples, the same that went in and came out; null for lossy copies and floats.</summary>
    public string? SampleMd5 { get; init; }

    /// <summary>Tag fields and kept frames that read back equal.</summary>
    public int FieldsKept { get; init; }

    /// <summary>Pictures that read back equal.</summary>
    public int PicturesKept { get; init; }

    /// <summary>Size of the file.</summary>
    public long Bytes { get; init; }

    /// <summary>Mean bitrate of the sound.</summary>
    public int KilobitsPerSecond { get; init; }

    /// <summary>How far the sound was turned down to avoid clipping; null where it was not.</summary>
    [JsonPropertyName("downmixGainDecibels")]
    public double? FittingGainDecibels { get; init; }

    /// <summary>Samples held at full scale when bits were taken away.</summary>
    public long ClippedSamples { get; init; }

    /// <summary>Damage of the source that did not prevent reading the rest.</summary>
    public IReadOnlyList<string> SourceDamage { get; init; } = [];

    /// <summary>What was checked, for a report: "same length, 88,200 samples, 7 tags, 1 picture".</summary>
    public string InWords()
    {
        var parts = new List<string>
        {
            IsLossless
                ? "every sample equal" + (SampleMd5 is null ? "" : $", MD5 {SampleMd5[..8]}")
                : string.Create(CultureInfo.InvariantCulture, $"same length, {FramesOut:N0} samples"),
            Plural.Count(FieldsKept, "tag")
        };
        if (PicturesKept > 0)
            parts.Add(Plural.Count(PicturesKept, "picture"));
        if (FittingGainDecibels is { } gain)
            parts.Add(string.Create(CultureInfo.InvariantCulture, $"lowered by {-gain:0.0} dB to avoid clipping"));
        if (ClippedSamples > 0)
            parts.Add(string.Create(CultureInfo.InvariantCulture, $"{ClippedSamples:N0} samples at full scale"));
        if (SourceDamage.Count > 0)
            parts.Add("source damaged: " + SourceDamage[0]);
        return string.Join(", ", parts);
    }
}
