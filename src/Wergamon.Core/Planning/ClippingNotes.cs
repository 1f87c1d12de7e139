using System.Globalization;
using Wergamon.Core.Audio;

namespace Wergamon.Core.Planning;

/// <summary>What a route would clip, and what is done about it.</summary>
internal static class ClippingNotes
{
    public static IEnumerable<PlanNote> On(PlanSource source, Route route, Target target)
    {
        if (source.Known is not { } known || route.Steps.Any(step => step.Kind == StepKind.Gain))
            yield break;
        bool isDownmixed = route.Steps.Any(step => step is { Kind: StepKind.Downmix, Output.Channels: 2 });
        if (isDownmixed && Over(known.DownmixPeak) is { } over)
            yield return new PlanNote(
                PlanWarning.Lowered,
                string.Create(
                    CultureInfo.InvariantCulture, $"The downmix peaks at +{over:0.0} dB: lowered by that much to avoid clipping"));
        if (isDownmixed || !route.Steps.Any(step => step.Kind == StepKind.Resample) || Over(known.Level.TruePeak) is not { } between)
            yield break;
        yield return target.Level is { Kind: LevelKind.AvoidClipping }
            ? new PlanNote(
                PlanWarning.Lowered,
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"Peaks at up to +{between:0.0} dB after resampling: lowered by that much to avoid clipping"))
            : new PlanNote(
                PlanWarning.MayClip,
                string.Create(
                    CultureInfo.InvariantCulture, $"Clips by up to {between:0.0} dB after resampling, unless the level is lowered"));
    }

    /// <summary>Decibels above full scale; null for less than can be shown.</summary>
    private static double? Over(double? peak)
    {
        const double LeastDecibels = 0.05;
        double over = Decibels.FromGain(peak ?? 0);
        return over >= LeastDecibels ? over : null;
    }
}
