using System.Text.Json.Serialization;
using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Steps;
using Wergamon.Core.Formats;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Jobs;

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

    /// <summary>Digest of the source's samples, if the library knows it: a copy that keeps them is not analysed again.</summary>
    public string? KnownDigest { get; init; }

    /// <summary>The digest that the samples of the copy will have, if that is known in advance.</summary>
    [JsonIgnore]
    public string? ExpectedDigest =>
        (IsCarried || Steps.Count == 0 && !Encoder.Format.IsLossy) && Sound is null && Part is null && AppendedSources.Count == 0
                && ParallelSources.Count == 0
            ? KnownDigest
            : null;

    /// <summary>How a downmix weighs the channels; null for the standard.</summary>
    public DownmixLevels? Downmix { get; init; }

    /// <summary>How a gain without decibels is computed, and whether sound that would clip after resampling is turned down.</summary>
    public LevelRule? Level { get; init; }

    /// <summary>How tags are written; null for the usual way.</summary>
    public TagWriteOptions? TagOptions { get; init; }

    /// <summary>Which pictures the copy gets; null for all, unchanged.</summary>
    public ArtworkRule? Artwork { get; init; }

    /// <summary>True when a core is expected to be idle, as during a rip: the copy is then proved on it while it is written.</summary>
    public bool HasSpareCore { get; init; }
}
