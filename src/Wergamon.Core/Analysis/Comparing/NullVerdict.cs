using System.Globalization;
using Wergamon.Core.Naming;

namespace Wergamon.Core.Analysis.Comparing;

/// <summary>The verdict of a null test, in one sentence.</summary>
/// <remarks>The limits are ours, tried on several encoders: no source.</remarks>
public static class NullVerdict
{
    private const double SameRecording = 8, Related = 3, NothingLeft = 85, MinGainDecibels = 0.05, MinSamples = 0.05, Silence = -200;

    /// <summary>What rounding with triangular dither changes at most, with a rounding before it.</summary>
    private const int DitherSteps = 2;

    private const double MostSeconds = 0.9, LowHertz = 60;

    public static NullVerdictKind Of(NullTestResult result)
    {
        if (result.ComparedFrames > 0 && result.EqualSamples == result.ComparedSamples && (result.Place is null or { IsWhole: true }))
            return NullVerdictKind.Identical;
        if (result.Place is not { } place || result.Second.TruePeak <= Silence)
            return NullVerdictKind.Silence;
        if (result.ComparedFrames == 0)
            return NullVerdictKind.Different;
        if (!place.IsFound)
            return NullVerdictKind.Different;
        if (place.IsWhole && result.MaxSteps <= DitherSteps)
            return NullVerdictKind.LastBits;
        if (result.BelowMusic > NothingLeft || result.ShareOfSeconds == 0)
            return NullVerdictKind.SameSound;
        if (result.DifferentTo - result.DifferentFrom < (double)result.ComparedFrames / result.Rate / 2)
            return NullVerdictKind.Part;
        return result.BelowMusic > SameRecording
            ? NullVerdictKind.Loss
            : result.BelowMusic > Related
            ? NullVerdictKind.Related
            : NullVerdictKind.Different;
    }

    /// <summary>A sentence without its full stop.</summary>
    /// <param name="second">What the second sound is called: "B".</param>
    public static string InWords(NullTestResult result, string second)
    {
        var kind = Of(result);
        var how = HowItLies(result, second);
        var but = how.Count == 0 ? "" : ", but " + string.Join(", and ", how);
        var also = how.Count == 0 ? "" : "; " + string.Join(", and ", how);
        return kind switch
        {
            NullVerdictKind.Identical when how.Count == 0 =>
                result.First.Format.Bits == result.Second.Format.Bits || result.First.Format.IsFloat || result.Second.Format.IsFloat
                ? "Identical bit for bit"
                : $"Identical: every sample is equal; the {Math.Max(result.First.Format.Bits, result.Second.Format.Bits)}-bit one uses "
                    + $"{Math.Max(result.First.RealBits, result.Second.RealBits)} bits, the others are padding",
            NullVerdictKind.Identical => "Every sample is equal" + but,
            NullVerdictKind.SameSound =>
                "The same sound" + (but.Length == 0 ? Invariant($": the residue is {result.BelowMusic:0} dB below the music") : but),
            NullVerdictKind.LastBits =>
                string.Create(
                        CultureInfo.InvariantCulture,
                        $"Equal but for the last bits: {second} differs by at most {Plural.Count(result.MaxSteps ?? 0, "step")} of "
                            + $"{result.StepBits} bits, as rounding and dither leave it")
                    + also,
            NullVerdictKind.Part => $"The same audio except from {Clock(result.DifferentFrom)} to {Clock(result.DifferentTo)}" + also,
            NullVerdictKind.Loss =>
                string.Create(
                        CultureInfo.InvariantCulture,
                        $"The same recording with a loss: the residue is {result.BelowMusic:0} dB below the music, {InTime(result)}, "
                            + $"{InFrequency(result)}")
                    + also,
            NullVerdictKind.Related =>
                Invariant($"Similar, but another mix, master or edit: the residue is only {result.BelowMusic:0} dB below the music") + also,
            NullVerdictKind.Silence => "One of them is silent or very short, so they cannot be compared",
            _ => "Not the same recording: nothing cancels out when one is subtracted from the other",
        };
    }

    /// <summary>Offset, length, speed, level and polarity of the second, as parts of a sentence.</summary>
    private static List<string> HowItLies(NullTestResult result, string second)
    {
        var parts = new List<string>();
        if (result.Place is not { IsFound: true } place)
            return parts;
        double begins = place.Offset + place.Fraction;
        if (Math.Abs(begins) >= MinSamples)
            parts.Add($"{second} starts {Distance(begins, result.Rate)} {(begins > 0 ? "later" : "earlier")}");
        long longer = result.SecondBeyond.After - result.FirstBeyond.After;
        if (longer != 0)
            parts.Add($"{second} ends {Distance(longer, result.Rate)} {(longer > 0 ? "later" : "earlier")}");
        if (parts.Count > 0 && Math.Max(result.FirstBeyond.PeakDecibels, result.SecondBeyond.PeakDecibels) > -90)
            parts.Add("there is audio in the part that only one of them has");
        if (place.Speed != 1)
            parts.Add(Invariant($"{second} runs {Math.Abs(1 / place.Speed - 1) * 100:0.####} % {(place.Speed < 1 ? "faster" : "slower")}"));
        if (Math.Abs(result.GainDecibels) > MinGainDecibels)
            parts.Add(Invariant($"{second} is {Math.Abs(result.GainDecibels):0.0} dB {(result.GainDecibels < 0 ? "louder" : "quieter")}"));
        if (result.IsSwapped)
            parts.Add($"{second} has its channels swapped");
        if (place.IsReversed)
            parts.Add($"{second} has the opposite polarity");
        return parts;
    }

    private static string Distance(double frames, int rate)
    {
        double samples = Math.Abs(frames), seconds = samples / rate;
        var time = seconds >= 1 ? Invariant($"{seconds:0.##} s") : Invariant($"{seconds * 1000:0.#} ms");
        return (samples % 1 == 0 ? Plural.Count((long)samples, "sample") : Invariant($"{samples:N2} samples")) + $" ({time})";
    }

    private static string InTime(NullTestResult result) =>
        result.ShareOfSeconds > MostSeconds ? "in nearly the whole track" : Invariant($"in {result.ShareOfSeconds:0 %} of the track");

    private static string InFrequency(NullTestResult result)
    {
        double top = Math.Min(result.Rate / 2.0, Math.Max(result.First.TopEndHertz, result.Second.TopEndHertz));
        bool toTop = result.MostToHertz >= 0.8 * top, fromBottom = result.MostFromHertz <= LowHertz;
        return toTop && fromBottom ? "at all frequencies"
            : toTop ? $"most of it above {Hertz(result.MostFromHertz)}"
            : fromBottom ? $"most of it below {Hertz(result.MostToHertz)}"
            : $"most of it between {Hertz(result.MostFromHertz)} and {Hertz(result.MostToHertz)}";
    }

    private static string Hertz(double hertz) => hertz >= 1000 ? Invariant($"{hertz / 1000:0.#} kHz") : Invariant($"{hertz:0} Hz");

    private static string Clock(double seconds) => Invariant($"{(int)(seconds / 60)}:{(int)(seconds % 60):00}");

    private static string Invariant(FormattableString text) => text.ToString(CultureInfo.InvariantCulture);
}
