using System.Text.Json.Serialization;
using Wergamon.Core.Audio;
using Wergamon.Core.Metering;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Jobs;

/// <summary>One job for a worker, sent as one line of JSON. Exactly one of the parts is given.</summary>
public sealed record WorkerRequest(ProbeJob? Probe = null, ConvertJob? Convert = null, DecodeJob? Decode = null, SurveyJob? Survey = null, CompareJob? Compare = null);

/// <summary>Asks what is in a file that Core cannot read itself.</summary>
public sealed record ProbeJob(string SourcePath);

/// <summary>Turns a file into WAV, to be listened to while it is being written.</summary>
/// <param name="OutputPath">Must not exist.</param>
/// <param name="FrameCount">The length that the head states at once. What decodes to more is cut off; less stays less.</param>
public sealed record DecodeJob(string SourcePath, string OutputPath, long FrameCount);

/// <summary>Goes through the whole sound of a file once.</summary>
public sealed record SurveyJob(string SourcePath);

/// <summary>Finds out how the sound of one file differs from that of another.</summary>
public sealed record CompareJob(string FirstPath, string SecondPath);

/// <summary>Makes one copy and proves it.</summary>
/// <param name="SourcePath">The file to read; never written to.</param>
/// <param name="SourceFormat">What the plan was made for; a file that decodes to anything else has changed and is refused.</param>
/// <param name="Steps">The steps of the route in order, with the format after each.</param>
/// <param name="OutputPath">The temporary name; must not exist.</param>
/// <param name="ExtraFields">Fields that the source lacks and the copy gets, for example from its file name.</param>
/// <param name="Pictures">Pictures that the copy gets when the source holds none.</param>
public sealed record ConvertJob(
    string SourcePath,
    PcmFormat SourceFormat,
    IReadOnlyList<JobStep> Steps,
    FileKind OutputKind,
    string OutputPath,
    Mp3Quality Mp3,
    int FlacLevel,
    IReadOnlyList<JobField> ExtraFields,
    IReadOnlyList<JobPicture> Pictures)
{
    /// <summary>Files whose sound follows right behind that of the source; the tags are those of the source.</summary>
    public IReadOnlyList<string> SourcesBehind { get; init; } = [];

    /// <summary>Files whose channels stand beside those of the source.</summary>
    public IReadOnlyList<string> SourcesBeside { get; init; } = [];

    /// <summary>The loudspeaker of each channel in the order of the sources; empty for what the file says.</summary>
    public IReadOnlyList<ChannelRoles> Roles { get; init; } = [];

    /// <summary>How a fold-down weighs the channels; null for the standard.</summary>
    public FoldDownLevels? Fold { get; init; }
}

public sealed record JobStep(StepKind Kind, PcmFormat Output);

public sealed record JobField(string Name, IReadOnlyList<string> Values);

/// <summary>A picture that lies in a file of its own.</summary>
public sealed record JobPicture(PictureKind Kind, string Path);

/// <summary>One line from a worker: progress while it works, then exactly one of the others.</summary>
public sealed record WorkerReply(
    WorkerProgress? Progress = null,
    AudioFacts? Facts = null,
    Proof? Proof = null,
    long? DecodedFrames = null,
    SoundSurvey? Survey = null,
    SoundDifference? Difference = null,
    string? Failure = null);

/// <summary>How far the job is.</summary>
/// <param name="Done">Frames of the source that are through.</param>
/// <param name="Total">Frames of the source in all, as far as known.</param>
/// <param name="Proving">True while the result is being read back.</param>
public sealed record WorkerProgress(long Done, long Total, bool Proving);

/// <summary>The form of the lines between server and worker, the same on both sides.</summary>
[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase,
    UseStringEnumConverter = true,
    IgnoreReadOnlyProperties = true,
    DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull)]
[JsonSerializable(typeof(WorkerRequest))]
[JsonSerializable(typeof(WorkerReply))]
[JsonSerializable(typeof(Proof))]
[JsonSerializable(typeof(ConvertJob))]
[JsonSerializable(typeof(Target))]
public sealed partial class WorkerJson : JsonSerializerContext;
