using System.Globalization;
using System.Text.Json.Serialization;
using Wergamon.Core.Audio;

namespace Wergamon.Core.Formats.Aac;

/// <summary>How AAC is encoded: at a constant bitrate.</summary>
/// <param name="KilobitsPerSecond">Of stereo; mono gets half of it, more channels more.</param>
public sealed record AacSettings(int KilobitsPerSecond) : EncoderSettings
{
    public static readonly IReadOnlyList<int> Rates = [64, 96, 128, 160, 192, 224, 256, 320];

    /// <summary>A packet of 1,024 samples holds at most this many bits a channel (ISO/IEC 14496-3, 4.5.3.3).</summary>
    private const int MaxPacketBits = 6144;

    internal const int PacketFrames = 1024;

    [JsonIgnore]
    public override WritableFormat Format => AacFormat.Instance;

    public override bool IsValid => Rates.Contains(KilobitsPerSecond);

    public override string Figure => KilobitsPerSecond.ToString(CultureInfo.InvariantCulture) + " kbit/s";

    public override string Summary => "AAC " + Figure;

    public override string LabelFor(PcmFormat output) => string.Create(CultureInfo.InvariantCulture, $"AAC {RateFor(output) / 1000}");

    public override double? MeanKilobits(PcmFormat format) => RateFor(format) / 1000.0;

    /// <summary>The bitrate in bits per second for a number of channels, limited to what the format allows at this sample rate.</summary>
    public int RateFor(PcmFormat format) =>
        (int)Math.Min(KilobitsPerSecond * 500L * format.Channels, (long)MaxPacketBits * format.Channels * format.Rate.Hertz / PacketFrames);
}
