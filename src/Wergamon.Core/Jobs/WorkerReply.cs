using System.Text.Json.Serialization;
using Wergamon.Core.Analysis;
using Wergamon.Core.Analysis.Comparing;
using Wergamon.Core.Analysis.Findings;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Music;

namespace Wergamon.Core.Jobs;

/// <summary>One line from a worker: progress while it works, then exactly one of the others.</summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "reply")]
[JsonDerivedType(typeof(ProgressReply), "progress")]
[JsonDerivedType(typeof(ProbeReply), "probe")]
[JsonDerivedType(typeof(ConvertReply), "convert")]
[JsonDerivedType(typeof(RetagReply), "retag")]
[JsonDerivedType(typeof(DecodeReply), "decode")]
[JsonDerivedType(typeof(AnalysisReply), "analyse")]
[JsonDerivedType(typeof(MusicReply), "music")]
[JsonDerivedType(typeof(WaveformReply), "waveform")]
[JsonDerivedType(typeof(LevelReply), "level")]
[JsonDerivedType(typeof(CompareReply), "compare")]
[JsonDerivedType(typeof(InspectReply), "inspect")]
[JsonDerivedType(typeof(ThumbnailReply), "thumbnail")]
[JsonDerivedType(typeof(DifferentSourceReply), "different-source")]
[JsonDerivedType(typeof(CancelledReply), "cancelled")]
[JsonDerivedType(typeof(FailureReply), "failure")]
public abstract record WorkerReply
{
    /// <summary>Why the job failed; null when it did not.</summary>
    [JsonIgnore]
    public virtual string? Failure => null;
}

public sealed record ProgressReply(WorkerProgress Progress) : WorkerReply;

public sealed record ProbeReply(AudioFacts Facts) : WorkerReply;

/// <param name="Analysis">Taken from the new file while it was read back; null where its samples are those of an analysed source.</param>
public sealed record ConvertReply(Proof Proof, AudioAnalysis? Analysis = null) : WorkerReply;

/// <param name="Frames">Samples of one channel that were written.</param>
public sealed record DecodeReply(long Frames) : WorkerReply;

/// <summary>The copy has its tags, and the sound that it had.</summary>
public sealed record RetagReply : WorkerReply;

public sealed record AnalysisReply(AudioAnalysis Analysis) : WorkerReply;

public sealed record MusicReply(MusicAnalysis Analysis) : WorkerReply;

/// <param name="Frames">Samples of one channel that were read.</param>
public sealed record WaveformReply(long Frames) : WorkerReply;

public sealed record LevelReply(Loudness Loudness) : WorkerReply;

public sealed record CompareReply(NullTestResult Result) : WorkerReply;

public sealed record InspectReply(Inspection Inspection) : WorkerReply;

public sealed record ThumbnailReply(byte[] Data, string MimeType) : WorkerReply;

/// <summary>The source decodes to another format than the plan was made for: its header was read wrong, or the file has changed.</summary>
/// <param name="FrameCount">Samples of one channel, if the decoder says so.</param>
public sealed record DifferentSourceReply(PcmFormat Planned, PcmFormat Found, long? FrameCount) : WorkerReply
{
    [JsonIgnore]
    public override string? Failure => $"The file has changed since it was planned: it was {Planned} and is now {Found}.";
}

public sealed record CancelledReply : WorkerReply;

public sealed record FailureReply(string Reason) : WorkerReply
{
    [JsonIgnore]
    public override string? Failure => Reason;
}
