using System.Globalization;

namespace Wergamon.Core.Audio;

/// <summary>Samples per second per channel.</summary>
public readonly record struct SampleRate(int Hertz)
{
    public static readonly SampleRate AudioDisc = new(44_100);

    /// <summary>As the trade writes it: "44.1 kHz", "48 kHz".</summary>
    public override string ToString() => Kilohertz + " kHz";

    /// <summary>The number alone: "44.1", "48".</summary>
    public string Kilohertz => (Hertz / 1000m).ToString("0.###", CultureInfo.InvariantCulture);
}
