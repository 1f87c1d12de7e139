using Wergamon.Core.Audio;

namespace Wergamon.Core.Planning;

/// <summary>What a target costs that people often regret, with the reason.</summary>
public static class TargetAdvice
{
    private const int FullBandHertz = 32_000;

    public static IEnumerable<string> On(Target target)
    {
        if (target.IsLossy && target.Key == "archive")
            yield return $"{target.Encoder.Summary} is lossy: an archive made with it has lost detail for good. FLAC keeps everything.";
        if ((target.Rate ?? target.HighestRate) is { Hertz: < FullBandHertz } rate)
            yield return $"{rate} cuts off everything above {new SampleRate(rate.Hertz / 2)}; music needs 44.1 kHz.";
        if (target is { Sources: SourceDisposition.TrashAfterProof, IsLossy: true })
            yield return "The originals are removed and only lossy copies are kept: the lost detail cannot be restored.";
    }
}
