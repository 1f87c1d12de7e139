using System.Globalization;

namespace Wergamon.Core.Planning;

/// <summary>How an MP3 is encoded: at a constant bitrate, or at a constant quality with a bitrate that varies.</summary>
/// <param name="IsVariable">True for constant quality.</param>
/// <param name="Value">Constant: kbit/s. Variable: 0 (best) to 9.</param>
public readonly record struct Mp3Quality(bool IsVariable, int Value)
{
    /// <summary>The bitrates that can be chosen: those of ISO 11172-3, table of layer III, from 96 up.</summary>
    public static readonly IReadOnlyList<int> ConstantRates = [96, 112, 128, 160, 192, 224, 256, 320];

    public const int MaxVariable = 9;

    /// <summary>Mean bitrates of stereo music at 44.1 kHz by quality (common practice, no source; from memory).</summary>
    private static readonly int[] UsualRates = [245, 225, 190, 175, 165, 130, 115, 100, 85, 65];

    public static Mp3Quality Constant(int kilobitsPerSecond) => new(false, kilobitsPerSecond);

    public static Mp3Quality Variable(int quality) => new(true, quality);

    public bool IsValid => IsVariable ? Value is >= 0 and <= MaxVariable : ConstantRates.Contains(Value);

    /// <summary>
    /// The bitrate in kbit/s at a sample rate. ISO 13818-3 ends at 160 kbit/s below 32 kHz, and encoders at 64 kbit/s
    /// below 16 kHz (common practice, no source).
    /// </summary>
    public int KilobitsPerSecond(int hertz)
    {
        int wanted = IsVariable ? UsualRates[Value] : Value;
        return hertz < 16_000 ? Math.Min(wanted, 64) : hertz < 32_000 ? Math.Min(wanted, 160) : wanted;
    }

    /// <summary>"MP3 256" or "MP3 variable 2".</summary>
    public string Label => IsVariable ? "MP3 variable " + Value.ToString(CultureInfo.InvariantCulture) : "MP3 " + Value.ToString(CultureInfo.InvariantCulture);

    public string InWords => IsVariable
        ? string.Create(CultureInfo.InvariantCulture, $"variable, about {UsualRates[Value]} kbit/s")
        : string.Create(CultureInfo.InvariantCulture, $"{Value} kbit/s");
}
