using System.Globalization;
using System.Text.Json.Serialization;
using Wergamon.Core.Audio;

namespace Wergamon.Core.Formats.Vorbis;

/// <summary>How Vorbis is encoded: at a constant quality.</summary>
/// <param name="Quality">-1 (smallest) to 10 (best).</param>
public sealed record VorbisSettings(int Quality) : EncoderSettings
{
    public const int MinQuality = -1;
    public const int MaxQuality = 10;

    /// <summary>Nominal bitrates of stereo at 44.1 kHz from quality -1 up (common practice, no source; from memory).</summary>
    private static readonly int[] NominalRates = [45, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320, 500];

    [JsonIgnore]
    public override WritableFormat Format => VorbisFormat.Instance;

    public override bool IsValid => Quality is >= MinQuality and <= MaxQuality;

    public override string Figure => Quality.ToString(CultureInfo.InvariantCulture);

    public override string Meaning =>
        string.Create(CultureInfo.InvariantCulture, $"variable, about {NominalRates[Quality - MinQuality]} kbit/s in stereo");

    public override string Summary => $"Vorbis quality {Figure}";

    public override string LabelFor(PcmFormat output) => $"Vorbis {Figure}";

    public override double? MeanKilobits(PcmFormat format) =>
        NominalRates[Quality - MinQuality] * (format.Channels / 2.0) * (format.Rate.Hertz / 44_100.0);
}
