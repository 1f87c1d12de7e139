using Wergamon.Core.Audio;
using Wergamon.Core.Formats;

namespace Wergamon.Core.Planning;

public enum StepKind
{
    /// <summary>Several files one after the other.</summary>
    Join,

    /// <summary>A part of a longer file.</summary>
    Cut,

    /// <summary>Samples of zero left out at both ends.</summary>
    Trim,

    /// <summary>More bits of storage, the same values.</summary>
    Widen,

    /// <summary>Fewer bits of storage, the same values.</summary>
    Narrow,

    /// <summary>Channels rearranged, repeated or left out.</summary>
    Arrange,

    /// <summary>Many channels to stereo, or to mono.</summary>
    Downmix,

    Resample,

    /// <summary>Faded in or out.</summary>
    Fade,

    /// <summary>Louder or softer.</summary>
    Gain,

    /// <summary>Fewer bits, with dither.</summary>
    Requantise,

    Encode,

    /// <summary>Instead of encoding: the coded sound of the source goes into the new file as it is.</summary>
    Carry,
}

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

/// <summary>The ordered steps from one source to one target.</summary>
public sealed record Route(AudioFacts Source, Fidelity SourceFidelity, IReadOnlyList<RouteStep> Steps)
{
    /// <summary>The sound as it goes into the encoder.</summary>
    public PcmFormat Output => Steps[^1].Output;

    /// <summary>The worst fidelity along the route.</summary>
    public Fidelity Fidelity => Steps.Select(step => step.Fidelity).Aggregate(FidelityWords.Worse);

    /// <summary>Fidelity of the new copy relative to the master: a copy of a lossy source is lossy whatever the format.</summary>
    public Fidelity ResultFidelity => FidelityWords.Worse(SourceFidelity, Fidelity);

    /// <summary>Lossy encodings that this route adds: 0 or 1.</summary>
    public int AddedGenerations => Steps[^1].Fidelity == Fidelity.Lossy ? 1 : 0;

    /// <summary>True when the coded sound of the source is kept as it is.</summary>
    public bool IsCarried => Steps[^1].Kind == StepKind.Carry;

    /// <summary>"downmix to stereo, MP3 256".</summary>
    public string InWords => string.Join(", ", Steps.Select(step => step.Label));

    /// <summary>What the new copy will hold.</summary>
    public PlannedSound Sound => new(Output, OutputFrames, Source, IsUnchanged: Steps.Count == 1);

    /// <summary>Frames that the encoder will get.</summary>
    public long OutputFrames => Output.Rate == Source.Format.Rate
        ? Source.FrameCount
        : (Source.FrameCount * Output.Rate.Hertz + Source.Format.Rate.Hertz - 1) / Source.Format.Rate.Hertz;
}
