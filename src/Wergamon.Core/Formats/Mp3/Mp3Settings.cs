using System.Globalization;
using System.Text.Json.Serialization;
using Wergamon.Core.Audio;

namespace Wergamon.Core.Formats.Mp3;

public enum Mp3Mode
{
    /// <summary>The same bitrate throughout.</summary>
    Constant,

    /// <summary>A bitrate that varies around a mean.</summary>
    Average,

    /// <summary>A constant quality, at whatever bitrate that takes.</summary>
    Variable,
}

/// <summary>How an MP3 is encoded.</summary>
/// <param name="Value">Constant and average: kbit/s. Variable: 0 (best) to 9.</param>
public sealed record Mp3Settings(Mp3Mode Mode, int Value) : EncoderSettings
{
    /// <summary>The bitrates that can be chosen: those of ISO 11172-3, table of layer III, from 96 up.</summary>
    public static readonly IReadOnlyList<int> ConstantRates = [96, 112, 128, 160, 192, 224, 256, 320];

    public const int MaxVariable = 9;

    /// <summary>Mean bitrates of stereo music at 44.1 kHz by quality (common practice, no source; from memory).</summary>
    private static readonly int[] UsualRates = [245, 225, 190, 175, 165, 130, 115, 100, 85, 65];

    public static Mp3Settings Constant(int kilobitsPerSecond) => new(Mp3Mode.Constant, kilobitsPerSecond);

    public static Mp3Settings Average(int kilobitsPerSecond) => new(Mp3Mode.Average, kilobitsPerSecond);

    public static Mp3Settings Variable(int quality) => new(Mp3Mode.Variable, quality);

    [JsonIgnore]
    public bool IsVariable => Mode == Mp3Mode.Variable;

    [JsonIgnore]
    public override WritableFormat Format => Mp3Format.Instance;

    public override bool IsValid => IsVariable ? Value is >= 0 and <= MaxVariable : ConstantRates.Contains(Value);

    public override string Figure => Value.ToString(CultureInfo.InvariantCulture) + (IsVariable ? "" : " kbit/s");

    public override string Meaning => Mode switch
    {
        Mp3Mode.Variable => string.Create(CultureInfo.InvariantCulture, $"variable, about {UsualRates[Value]} kbit/s"),
        Mp3Mode.Average => "varies around this mean",
        _ => "",
    };

    public override string Summary => "MP3 " + (IsVariable ? Meaning : Mode == Mp3Mode.Average ? "about " + Figure : Figure);

    public override string LabelFor(PcmFormat output) => IsVariable
        ? "MP3 variable " + Value.ToString(CultureInfo.InvariantCulture)
        : "MP3 " + KilobitsPerSecond(output.Rate.Hertz).ToString(CultureInfo.InvariantCulture);

    public override double? MeanKilobits(PcmFormat format) => KilobitsPerSecond(format.Rate.Hertz);

    /// <summary>
    /// The bitrate in kbit/s at a sample rate. ISO 13818-3 ends at 160 kbit/s below 32 kHz, and encoders at 64 kbit/s
    /// below 16 kHz (common practice, no source).
    /// </summary>
    public int KilobitsPerSecond(int hertz)
    {
        int wanted = IsVariable ? UsualRates[Value] : Value;
        return hertz < 16_000 ? Math.Min(wanted, 64) : hertz < 32_000 ? Math.Min(wanted, 160) : wanted;
    }
}
