using Wergamon.Core.Planning;

namespace Wergamon.Core.Jobs;

public static class JobSteps
{
    /// <summary>The steps that a worker takes before the encoder.</summary>
    public static IReadOnlyList<JobStep> StepsBeforeEncoding(this Route route) =>
        [
            .. route.Steps.Where(step => step.Kind != StepKind.Encode)
                .Select(
                    step =>
                        new JobStep(step.Kind, step.Output)
                        {
                            Channels = step.Channels, Decibels = step.Decibels, Dither = step.Dither, Fade = step.Fade
                        })
        ];
}
