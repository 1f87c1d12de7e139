using Wergamon.Core.Audio;

namespace Wergamon.Core.Planning;

/// <summary>What a target costs that people often regret, with the reason.</summary>
public static class TargetAdvice
{
    private const int FullBandHertz = 32_000;

    public static IEnumerable<string> On(Target target)
    {
        if (target.IsLossy && target.Key == "archive")
            yield return $"{target.Encoder.Summary} throws detail away: an archive made of it cannot give it back. FLAC keeps all of it.";
        if ((target.Rate ?? target.HighestRate) is { Hertz: < FullBandHertz } rate)
            yield return $"{rate} cuts off everything above {new SampleRate(rate.Hertz / 2)}; music needs 44.1 kHz.";
        if (target is { Originals: Originals.TrashAfterProof, IsLossy: true })
            yield return "The originals go, and what is kept of them is lossy: detail that is thrown away does not come back.";
    }
}
