using System.Text.Json.Serialization;
using Wergamon.Core.Analysis.Comparing;

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

/// <summary>Decodes a file to WAV that can be played while it is being written.</summary>
/// <param name="OutputPath">Must not exist.</param>
/// <param name="FrameCount">The length in the header, which is written first. Anything longer is cut off; shorter stays shorter.</param>
public sealed record DecodeJob(string SourcePath, string OutputPath, long FrameCount) : WorkerJob;

/// <summary>
/// Makes a copy of an earlier copy with the current tags of its source, and proves it: the coded sound is the same byte for byte.
/// </summary>
/// <param name="CopyPath">The earlier copy; it stays as it is.</param>
/// <param name="Conversion">What says how its tags are made, and where the new copy goes.</param>
public sealed record RetagJob(string CopyPath, ConvertJob Conversion) : WorkerJob;

/// <summary>Analyses the audio of a file in one pass.</summary>
public sealed record AnalysisJob(string SourcePath) : WorkerJob;

/// <summary>Analyses the music of a file: tempo, key, and the components of energy.</summary>
public sealed record MusicJob(string SourcePath) : WorkerJob;

/// <summary>Writes the fine waveform of a file, for a close view.</summary>
/// <param name="OutputPath">Must not exist.</param>
public sealed record WaveformJob(string SourcePath, string OutputPath) : WorkerJob;

/// <summary>Measures the level that the sound of a conversion has before its gain.</summary>
public sealed record LevelJob(ConvertJob Conversion) : WorkerJob;

/// <summary>Compares the audio of two files by a null test.</summary>
/// <param name="OutputFolder">Receives both sounds as they were compared, and their waveforms; see <see cref="ComparedFiles"/>.</param>
/// <param name="MatchesLevel">True to bring the second to the level of the first.</param>
public sealed record CompareJob(string FirstPath, string SecondPath, string OutputFolder, bool MatchesLevel) : WorkerJob
{
    /// <summary>The known figures of the first file; null to measure it.</summary>
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
