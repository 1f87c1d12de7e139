using System.Globalization;
using Wergamon.Core.Analysis.Findings;

namespace Wergamon.Web.Pages.Bench;

/// <summary>Findings in words, and the picture that shows them.</summary>
public static class FindingLabels
{
    private const int Width = 260, Height = 64;

    private const double LowestDecibels = -130;

    public static string Name(FindingKind kind) => kind switch
    {
        FindingKind.LossyAncestor => "made from a lossy file",
        FindingKind.LowPassed => "cut off at the top",
        FindingKind.Upsampled => "upsampled",
        FindingKind.PaddedBits => "padded bits",
        FindingKind.Clipped => "clipped or limited peaks",
        FindingKind.MonoInStereo => "mono in stereo",
        FindingKind.OutOfPhase => "out of phase",
        FindingKind.ChannelOrder => "channels in a different order",
        FindingKind.Silence => "digital silence",
        FindingKind.Dropout => "dropped samples",
        _ => "clicks",
    };

    /// <summary>The name as a sentence begins.</summary>
    public static string Title(FindingKind kind) => char.ToUpperInvariant(Name(kind)[0]) + Name(kind)[1..];

    public static string Name(Sureness sureness) => sureness switch
    {
        Sureness.Certain => "certain",
        Sureness.Likely => "likely",
        _ => "unsure",
    };

    /// <summary>Points of the spectrum, in the units of the drawing.</summary>
    public static string Points(Inspection inspection) => string.Join(' ', inspection.Spectrum.Select((level, band) =>
        string.Create(
            CultureInfo.InvariantCulture,
            $"{(band + 0.5) * Width / inspection.Spectrum.Count:0.#},{Math.Clamp(level / LowestDecibels, 0, 1) * Height:0.#}")));

    /// <summary>A description of the drawing of a spectrum, for people who do not see it.</summary>
    public static string Describe(Inspection inspection)
    {
        var edge = inspection.Findings.FirstOrDefault(finding => finding.Hertz is not null)?.Hertz;
        return $"Mean spectrum from 20 Hz to {BenchLabels.Kilohertz(inspection.BandEdges[^1])} kHz"
            + (edge is { } hertz ? $", edge at {BenchLabels.Kilohertz(hertz)} kHz" : "");
    }

    /// <summary>Where a frequency is in the drawing.</summary>
    public static string PlaceOf(Inspection inspection, double hertz)
    {
        var (low, high) = (inspection.BandEdges[0], inspection.BandEdges[^1]);
        return (Math.Log(hertz / low) / Math.Log(high / low) * Width).ToString("0.#", CultureInfo.InvariantCulture);
    }
}
