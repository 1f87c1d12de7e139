using System.Globalization;
using System.Text.Json.Serialization;

namespace Wergamon.Core.Formats.Flac;

/// <summary>How FLAC is encoded. Every level gives the same samples (RFC 9639).</summary>
public sealed record FlacSettings : EncoderSettings
{
    public const int MaxLevel = 8;

    /// <summary>0 (quickest) to 8 (smallest).</summary>
    public int Level { get; init; } = 5;

    [JsonIgnore]
    public override WritableFormat Format => FlacFormat.Instance;

    public override bool IsValid => Level is >= 0 and <= MaxLevel;

    public override string Figure => Level.ToString(CultureInfo.InvariantCulture);

    public override string Meaning => "the same samples at every level";

    public override string Summary => "FLAC, as the source";
}
