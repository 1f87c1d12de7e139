using Wergamon.Core.Analysis;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;

namespace Wergamon.Worker;

/// <summary>Measures the sound of a route up to where its level is set.</summary>
internal static class LevelMeasurement
{
    public static LevelReply Run(LevelJob job, JobReport report)
    {
        var before = job.Conversion.Steps.TakeWhile(step => step.Kind != StepKind.Gain).ToList();
        long total = 0;
        using var reader = RouteReader.Open(
            job.Conversion with { Steps = before }, 1, frames => report.Tell(frames, total, proving: false));
        total = reader.FrameCount ?? 0;
        return new LevelReply(LoudnessMeter.Measure(reader, _ => { }));
    }
}
