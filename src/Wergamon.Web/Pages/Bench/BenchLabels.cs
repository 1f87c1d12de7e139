using System.Globalization;
using Wergamon.App.Bench;
using Wergamon.Core.Analysis.Comparing;
using Wergamon.Core.Naming;
using Wergamon.Core.Planning;

namespace Wergamon.Web.Pages.Bench;

/// <summary>Figures of the Bench as people read them.</summary>
public static class BenchLabels
{
    private const double Silence = -199;

    /// <summary>"FLAC 16/44.1 and MP3 192: identical".</summary>
    public static string Pair(NullTestRecord test) =>
        $"{test.First.Format} and {test.Second.Format}{(Verdict(test) is { Length: > 0 } verdict ? ": " + verdict : "")}";

    /// <summary>What a comparison has found, where that is short.</summary>
    public static string Verdict(NullTestRecord test) => test switch
    {
        { Failure: not null } => "failed",
        { Result: null } => "under way",
        { Result: { } result } => NullVerdict.Of(result) switch
        {
            NullVerdictKind.Identical => "identical",
            NullVerdictKind.LastBits => "last bits",
            NullVerdictKind.Loss => string.Create(CultureInfo.InvariantCulture, $"{result.BelowMusic:0} dB below the music"),
            NullVerdictKind.Different => "not the same",
            _ => "",
        },
    };

    /// <summary>"-21.4 dBFS"; "silence" for nothing.</summary>
    public static string Level(double decibels, string unit = "dBFS") =>
        decibels <= Silence ? "silence" : string.Create(CultureInfo.InvariantCulture, $"{decibels:0.0} {unit}");

    public static string Level(PlacedLevel? level, string none) => level is null ? none : Level(level.Decibels);

    /// <summary>Without the unit, for columns.</summary>
    public static string Level(PlacedLevel? level) =>
        level is null ? "none" : level.Decibels <= Silence ? "silence" : level.Decibels.ToString("0.0", CultureInfo.InvariantCulture);

    public static string Loudness(SoundFigures sound) => sound.Loudness?.ToString("0.0", CultureInfo.InvariantCulture) ?? "none";

    /// <summary>How far the residue is below the music; "identical" where nothing is left.</summary>
    public static string Below(NullTestResult result) =>
        result.ResiduePeak is null ? "identical" : result.BelowMusic.ToString("0.0", CultureInfo.InvariantCulture);

    /// <summary>"+0.42", for columns whose unit stands in front of the row.</summary>
    public static string Signed(double value) =>
        value <= Silence ? "silence" : value.ToString("+0.00;-0.00;0.00", CultureInfo.InvariantCulture);

    /// <summary>"0:31.2"</summary>
    public static string Place(double seconds) =>
        string.Create(
            CultureInfo.InvariantCulture, $"{(seconds < 0 ? "-" : "")}{(int)(Math.Abs(seconds) / 60)}:{Math.Abs(seconds) % 60:00.0}");

    public static string Kilohertz(double hertz) => (hertz / 1000).ToString("0.0", CultureInfo.InvariantCulture);

    /// <summary>"99.98 %", never 100 % while something differs, nor 0 % while something does not.</summary>
    public static string Share(long part, long whole) =>
        whole == 0
            ? "none"
            : part == whole
            ? "100 %"
            : part == 0
            ? "0 %"
            : string.Create(CultureInfo.InvariantCulture, $"{Math.Clamp(100.0 * part / whole, 0.01, 99.99):0.##} %");

    /// <summary>"16 of 24"; floats from a decoder have no depth of their own.</summary>
    public static string Bits(SoundFigures sound) =>
        sound.Format.IsFloat
            ? "float"
            : sound.RealBits == sound.Format.Bits
            ? $"{sound.RealBits}"
            : $"{sound.RealBits} of {sound.Format.Bits}";

    /// <summary>"5.5 %"; "less than 0.1 %".</summary>
    public static string Chance(double chance) =>
        chance < 0.001 ? "less than 0.1 %" : string.Create(CultureInfo.InvariantCulture, $"{100 * chance:0.#} %");

    /// <summary>What the second sound was moved by.</summary>
    public static string Offset(AlignedPair place) => place.Fraction == 0
        ? Plural.Count(place.Offset, "sample")
        : string.Create(CultureInfo.InvariantCulture, $"{place.Offset + place.Fraction:N3} samples");

    /// <summary>How the line of a copy is drawn: the marks for fidelity.</summary>
    public static string MarkOf(Fidelity fidelity) => $"copy copy-{fidelity.ToString().ToLowerInvariant()}";
}
