using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Steps;

namespace Wergamon.Core.Planning;

/// <summary>One step from source to target.</summary>
/// <param name="Fidelity">What the step does to the sound.</param>
/// <param name="Label">A few characters under the point where the step ends: "48 to 44.1 kHz".</param>
/// <param name="Output">The sound after the step.</param>
public sealed record RouteStep(StepKind Kind, Fidelity Fidelity, string Label, PcmFormat Output)
{
    /// <summary>For <see cref="StepKind.Arrange"/>: for each channel of the output the one of the input.</summary>
    public IReadOnlyList<int>? Channels { get; init; }

    /// <summary>For <see cref="StepKind.Gain"/>; null where it has to be measured first.</summary>
    public double? Decibels { get; init; }

    /// <summary>For <see cref="StepKind.Requantise"/>.</summary>
    public Dither Dither { get; init; }

    /// <summary>For <see cref="StepKind.Fade"/>.</summary>
    public FadeTimes? Fade { get; init; }
}
