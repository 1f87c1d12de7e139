using System.Text.Json.Serialization;
using Wergamon.Core.Analysis;
using Wergamon.Core.Analysis.Comparing;
using Wergamon.Core.Analysis.Findings;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Music;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Jobs;

/// <summary>A job for a worker: one line of JSON. It takes one at a time, and a <see cref="CancelJob"/> during it.</summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "job")]
[JsonDerivedType(typeof(ProbeJob), "probe")]
[JsonDerivedType(typeof(ConvertJob), "convert")]
[JsonDerivedType(typeof(RetagJob), "retag")]
[JsonDerivedType(typeof(DecodeJob), "decode")]
[JsonDerivedType(typeof(AnalysisJob), "analyse")]
[JsonDerivedType(typeof(MusicJob), "music")]
[JsonDerivedType(typeof(WaveformJob), "waveform")]
[JsonDerivedType(typeof(LevelJob), "level")]
[JsonDerivedType(typeof(CompareJob), "compare")]
[JsonDerivedType(typeof(InspectJob), "inspect")]
[JsonDerivedType(typeof(ThumbnailJob), "thumbnail")]
[JsonDerivedType(typeof(PictureJob), "picture")]
[JsonDerivedType(typeof(CancelJob), "cancel")]
public abstract record WorkerJob;

/// <summary>Cancels the current job, which answers with <see cref="CancelledReply"/>, or with its result if it has just ended.</summary>
public sealed record CancelJob : WorkerJob;

/// <summary>Reads the facts of a file that needs a decoder.</summary>
public sealed record ProbeJob(string SourcePath) : WorkerJob;

/// <summary>Decodes a file to WAV, to be listened to while it is being written.</summary>
/// <param name="OutputPath">Must not exist.</param>
/// <param name="FrameCount">The length in the header, which is written first. Anything longer is cut off; shorter stays shorter.</param>
public sealed record DecodeJob(string SourcePath, string OutputPath, long FrameCount) : WorkerJob;

/// <summary>
/// Makes a copy of an earlier copy with the present tags of its source, and proves it: the coded sound is the same byte for byte.
/// </summary>
/// <param name="CopyPath">The earlier copy; it stays as it is.</param>
/// <param name="Conversion">What says how its tags are made, and where the new copy goes.</param>
public sealed record RetagJob(string CopyPath, ConvertJob Conversion) : WorkerJob;

/// <summary>Analyses the audio of a file in one pass.</summary>
public sealed record AnalysisJob(string SourcePath) : WorkerJob;

/// <summary>Analyses the music of a file: tempo, key, and what its energy is made of.</summary>
public sealed record MusicJob(string SourcePath) : WorkerJob;

/// <summary>Writes the fine waveform of a file, to be looked at closely.</summary>
/// <param name="OutputPath">Must not exist.</param>
public sealed record WaveformJob(string SourcePath, string OutputPath) : WorkerJob;

/// <summary>Measures the level that the sound of a conversion has before its gain.</summary>
public sealed record LevelJob(ConvertJob Conversion) : WorkerJob;

/// <summary>Compares the audio of two files by a null test.</summary>
/// <param name="OutputFolder">Gets both sounds as they were compared, and their waveforms; see <see cref="ComparedFiles"/>.</param>
/// <param name="MatchesLevel">True to bring the second to the level of the first.</param>
public sealed record CompareJob(string FirstPath, string SecondPath, string OutputFolder, bool MatchesLevel) : WorkerJob
{
    /// <summary>What the library knows of the first file; null to measure it.</summary>
    public KnownLoudness? FirstLoudness { get; init; }

    public KnownLoudness? SecondLoudness { get; init; }
}

/// <summary>Looks whether a file is what it says.</summary>
/// <param name="IsLossless">Whether it claims to be without loss.</param>
public sealed record InspectJob(string SourcePath, bool IsLossless) : WorkerJob;

/// <summary>Makes a thumbnail.</summary>
/// <param name="Size">The longer side of the result, in pixels.</param>
public sealed record ThumbnailJob(string SourcePath, int Size) : WorkerJob;

/// <summary>Shapes a picture for players.</summary>
/// <param name="MaxSize">The longer side at most, in pixels; null for any.</param>
/// <param name="IsSquare">True to cut it to its middle.</param>
/// <param name="AsPng">True for PNG; otherwise baseline JPEG.</param>
public sealed record PictureJob(string SourcePath, int? MaxSize, bool IsSquare, bool AsPng) : WorkerJob;

/// <summary>Makes one copy and proves it.</summary>
/// <param name="SourcePath">The file to read; never written to.</param>
/// <param name="SourceFormat">Format that the plan was made for; a file that decodes to another has changed and is refused.</param>
/// <param name="Steps">The steps of the route in order, with the format after each.</param>
/// <param name="Encoder">In which format the copy is made, and how.</param>
/// <param name="OutputPath">The temporary name; must not exist.</param>
/// <param name="ExtraFields">Fields that the copy gets in the place of those of the source, for example from its file name.</param>
/// <param name="Pictures">Pictures that the copy gets when the source holds none.</param>
public sealed record ConvertJob(
    string SourcePath,
    PcmFormat SourceFormat,
    IReadOnlyList<JobStep> Steps,
    EncoderSettings Encoder,
    string OutputPath,
    IReadOnlyList<JobField> ExtraFields,
    IReadOnlyList<JobPicture> Pictures) : WorkerJob
{
    /// <summary>Which of several streams of sound in the source, from 0; null for the one that is heard.</summary>
    public int? Sound { get; init; }

    /// <summary>Files whose audio is appended to that of the source; the tags are those of the source.</summary>
    public IReadOnlyList<string> AppendedSources { get; init; } = [];

    /// <summary>Which frames of the source, with what is appended to it; null for all.</summary>
    public FrameRange? Part { get; init; }

    /// <summary>Files whose channels are merged with those of the source.</summary>
    public IReadOnlyList<string> ParallelSources { get; init; } = [];

    /// <summary>Speaker of each channel in the order of the sources; empty to go by the file.</summary>
    public IReadOnlyList<ChannelRoles> Roles { get; init; } = [];

    /// <summary>True when the coded sound goes into the copy as it is; it is decoded only to be proved.</summary>
    [JsonIgnore]
    public bool IsCarried => Steps is [.., { Kind: StepKind.Carry }];

    /// <summary>Digest of the source's samples, where the library knows it: a copy that keeps them is not analysed again.</summary>
    public string? KnownDigest { get; init; }

    /// <summary>The digest that the samples of the copy will have, where it is known beforehand.</summary>
    [JsonIgnore]
    public string? ExpectedDigest =>
        (IsCarried || Steps.Count == 0 && !Encoder.Format.IsLossy) && Sound is null && Part is null && AppendedSources.Count == 0
                && ParallelSources.Count == 0
            ? KnownDigest
            : null;

    /// <summary>How a downmix weighs the channels; null for the standard.</summary>
    public DownmixLevels? Downmix { get; init; }

    /// <summary>What a gain without decibels is worked out by, and whether what would clip after resampling is turned down.</summary>
    public LevelRule? Level { get; init; }

    /// <summary>How tags are written; null for the usual way.</summary>
    public TagWriteOptions? TagOptions { get; init; }

    /// <summary>Which pictures the copy gets; null for all as they are.</summary>
    public ArtworkRule? Artwork { get; init; }

    /// <summary>True when a core is expected to be idle, as during a rip: the copy is then proved on it while it is written.</summary>
    public bool HasSpareCore { get; init; }
}

public sealed record JobStep(StepKind Kind, PcmFormat Output)
{
    /// <summary>For each channel of the output the one of the input; null but for <see cref="StepKind.Arrange"/>.</summary>
    public IReadOnlyList<int>? Channels { get; init; }

    /// <summary>Null but for <see cref="StepKind.Gain"/>, and there until it has been measured.</summary>
    public double? Decibels { get; init; }

    public Dither Dither { get; init; }

    public FadeTimes? Fade { get; init; }
}

public sealed record JobField(string Name, IReadOnlyList<string> Values);

/// <summary>A picture in a file of its own.</summary>
public sealed record JobPicture(PictureKind Kind, string Path);

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
/// <param name="FrameCount">Samples of one channel, as far as the decoder says.</param>
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

/// <summary>How far the job is.</summary>
/// <param name="Done">Frames of the source processed so far.</param>
/// <param name="Total">Frames of the source in all, as far as known.</param>
/// <param name="Proving">True while the result is being read back.</param>
public sealed record WorkerProgress(long Done, long Total, bool Proving);

/// <summary>Serialisation of the lines between server and worker.</summary>
[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase,
    UseStringEnumConverter = true,
    IgnoreReadOnlyProperties = true,
    DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull)]
[JsonSerializable(typeof(WorkerJob))]
[JsonSerializable(typeof(WorkerReply))]
[JsonSerializable(typeof(Proof))]
[JsonSerializable(typeof(ConvertJob))]
public sealed partial class WorkerJson : JsonSerializerContext;
