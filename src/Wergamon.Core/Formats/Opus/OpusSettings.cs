using System.Globalization;
using System.Text.Json.Serialization;
using Wergamon.Core.Audio;

namespace Wergamon.Core.Formats.Opus;

/// <summary>How Opus is encoded: at a mean bitrate that varies with the music.</summary>
/// <param name="KilobitsPerSecond">Of stereo; mono gets half of it, more channels more.</param>
public sealed record OpusSettings(int KilobitsPerSecond) : EncoderSettings
{
    public static readonly IReadOnlyList<int> Rates = [32, 48, 64, 80, 96, 112, 128, 160, 192, 256];

    [JsonIgnore]
    public override WritableFormat Format => OpusFormat.Instance;

    public override bool IsValid => Rates.Contains(KilobitsPerSecond);

    public override string Figure => KilobitsPerSecond.ToString(CultureInfo.InvariantCulture) + " kbit/s";

    public override string Meaning => "variable around this mean, in stereo";

    public override string Summary => "Opus " + Figure;

    public override string LabelFor(PcmFormat output) => string.Create(CultureInfo.InvariantCulture, $"Opus {MeanKilobits(output):0}");

    public override double? MeanKilobits(PcmFormat format) => KilobitsPerSecond * format.Channels / 2.0;
}
