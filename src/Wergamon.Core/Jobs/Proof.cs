using System.Globalization;
using System.Text.Json.Serialization;
using Wergamon.Core.Naming;

namespace Wergamon.Core.Jobs;

/// <summary>What was checked on a new copy after reading it back from disk.</summary>
/// <param name="IsLossless">True: every sample was compared. False: the length was compared, since the samples must differ.</param>
/// <param name="FramesIn">Samples of one channel that went into the encoder.</param>
/// <param name="FramesOut">Samples of one channel that came out of the finished file.</param>
/// <param name="SampleMd5">MD5 over all samples, the same that went in and came out; null for lossy copies and floats.</param>
/// <param name="FieldsKept">Tag fields and kept frames that read back equal.</param>
/// <param name="PicturesKept">Pictures that read back equal.</param>
/// <param name="Bytes">Size of the file.</param>
/// <param name="KilobitsPerSecond">Mean bitrate of the sound.</param>
/// <param name="FittingGainDecibels">How far the sound was turned down to avoid clipping; null where it was not.</param>
/// <param name="ClippedSamples">Samples held at full scale when bits were taken away.</param>
/// <param name="SourceDamage">What was wrong with the source and could be read around.</param>
public sealed record Proof(
    bool IsLossless,
    long FramesIn,
    long FramesOut,
    string? SampleMd5,
    int FieldsKept,
    int PicturesKept,
    long Bytes,
    int KilobitsPerSecond,
    [property: JsonPropertyName("downmixGainDecibels")] double? FittingGainDecibels,
    long ClippedSamples,
    IReadOnlyList<string> SourceDamage)
{
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
