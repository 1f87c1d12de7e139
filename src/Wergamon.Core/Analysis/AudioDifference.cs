using System.Globalization;
using Wergamon.Core.Audio;

namespace Wergamon.Core.Analysis;

/// <summary>How the second of two signals differs from the first once they are aligned and at one level.</summary>
/// <param name="LaterBy">How much later the second starts; negative when it starts earlier.</param>
/// <param name="LaterByFrames">The same in samples of one channel.</param>
/// <param name="Decibels">How much louder the second is; negative when it is quieter.</param>
/// <param name="IsReversed">True when the second has the opposite polarity.</param>
/// <param name="ResidueDecibels">Mean level of the residue relative to the first signal; minus infinity when they null to silence.</param>
/// <param name="DifferentFrom">First second of the first signal with a residue; null when there is none.</param>
/// <param name="DifferentTo">The end of the last such second.</param>
/// <param name="Compared">Length of the overlap that was compared.</param>
public sealed record AudioDifference(
    TimeSpan LaterBy, long LaterByFrames, double Decibels, bool IsReversed, double ResidueDecibels, TimeSpan? DifferentFrom, TimeSpan? DifferentTo, TimeSpan Compared)
{
    /// <summary>Residue limits for two encodings of one recording. Our own, tried on several encoders.</summary>
    private const double SameRecording = -8, Nothing = -85;

    private const double MinGain = 0.05;

    /// <summary>Whether both hold the same recording, perhaps encoded or at another level.</summary>
    public bool IsSameRecording => ResidueDecibels < SameRecording;

    /// <summary>A sentence about the second without its subject: "the same samples, but starts 588 samples (13 ms) later".</summary>
    public string InWords()
    {
        if (!IsSameRecording && !IsOnlyPartly)
            return "another recording, mix or performance: nothing cancels out when one is taken from the other";
        var parts = new List<string>();
        if (LaterByFrames != 0)
            parts.Add(string.Create(CultureInfo.InvariantCulture, $"starts {Math.Abs(LaterByFrames):N0} samples ({Math.Abs(LaterBy.TotalMilliseconds):0} ms) {(LaterByFrames > 0 ? "later" : "earlier")}"));
        if (Math.Abs(Decibels) > MinGain)
            parts.Add(string.Create(CultureInfo.InvariantCulture, $"is {Math.Abs(Decibels):0.0} dB {(Decibels > 0 ? "louder" : "softer")}"));
        if (IsReversed)
            parts.Add("has its polarity reversed");
        var rest = parts.Count == 0 ? "" : ", but " + string.Join(" and ", parts);
        if (ResidueDecibels < Nothing)
            return (parts.Count == 0 ? "nothing can be told apart" : "the same sound") + rest;
        if (IsOnlyPartly)
            return $"the same sound except from {Clock(DifferentFrom!.Value)} to {Clock(DifferentTo!.Value)}{rest}";
        return string.Create(CultureInfo.InvariantCulture, $"the same recording, encoded or processed: what differs lies {-ResidueDecibels:0} dB below the sound{rest}");
    }

    /// <summary>At most half of the signal differs, in one section.</summary>
    private bool IsOnlyPartly => DifferentFrom is { } from && DifferentTo is { } to && to - from < Compared / 2;

    private static string Clock(TimeSpan time) => string.Create(CultureInfo.InvariantCulture, $"{(int)time.TotalMinutes}:{time.Seconds:00}");
}
