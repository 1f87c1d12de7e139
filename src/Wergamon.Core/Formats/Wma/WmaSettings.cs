using System.Globalization;
using System.Text.Json.Serialization;
using Wergamon.Core.Audio;

namespace Wergamon.Core.Formats.Wma;

/// <summary>How WMA is encoded: at a constant bitrate.</summary>
/// <param name="KilobitsPerSecond">Of stereo; mono gets half of it.</param>
public sealed record WmaSettings(int KilobitsPerSecond) : EncoderSettings
{
    public static readonly IReadOnlyList<int> Rates = [64, 96, 128, 160, 192];

    [JsonIgnore]
    public override WritableFormat Format => WmaFormat.Instance;

    public override bool IsValid => Rates.Contains(KilobitsPerSecond);

    public override string Figure => KilobitsPerSecond.ToString(CultureInfo.InvariantCulture) + " kbit/s";

    public override string Summary => "WMA " + Figure;

    public override string LabelFor(PcmFormat output) => string.Create(CultureInfo.InvariantCulture, $"WMA {MeanKilobits(output):0}");

    public override double? MeanKilobits(PcmFormat format) => KilobitsPerSecond * format.Channels / 2.0;
}
