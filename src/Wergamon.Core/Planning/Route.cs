using Wergamon.Core.Audio;
using Wergamon.Core.Formats;

namespace Wergamon.Core.Planning;

/// <summary>The ordered steps from one source to one target.</summary>
public sealed record Route(AudioFacts Source, Fidelity SourceFidelity, IReadOnlyList<RouteStep> Steps)
{
    /// <summary>The sound as it goes into the encoder.</summary>
    public PcmFormat Output => Steps[^1].Output;

    /// <summary>The worst fidelity along the route.</summary>
    public Fidelity Fidelity => Steps.Select(step => step.Fidelity).Aggregate(FidelityLabels.Worse);

    /// <summary>Fidelity of the new copy relative to the master: a copy of a lossy source is lossy whatever the format.</summary>
    public Fidelity ResultFidelity => FidelityLabels.Worse(SourceFidelity, Fidelity);

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
