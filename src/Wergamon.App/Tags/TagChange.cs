using System.Text.Json;
using System.Text.Json.Serialization;
using Wergamon.App.Runs;
using Wergamon.Core.Tags;

namespace Wergamon.App.Tags;

/// <summary>New values of a field; none remove it.</summary>
public sealed record FieldChange(string Name, IReadOnlyList<string> Values);

/// <summary>A picture that a file gets, by its SHA-256 in the database.</summary>
public sealed record PictureChoice(PictureKind Kind, string Description, string Hash);

/// <summary>The file as the library knew it when its changes were reviewed: <see cref="Files.FileStamp"/>.</summary>
public sealed record ReviewedFile(long Bytes, long ModifiedAt, long Number);

/// <summary>All that changes in one file.</summary>
/// <param name="Fields">Other fields stay as they are.</param>
/// <param name="Pictures">All pictures of the file; null where they stay as they are.</param>
/// <param name="NewPath">The name that the file gets; null where it keeps its own.</param>
public sealed record TagWriteSpec(long CopyId, IReadOnlyList<FieldChange> Fields, IReadOnlyList<PictureChoice>? Pictures, string? NewPath)
{
    /// <summary>3 or 4; null for the version that the file has.</summary>
    public int? Id3v2Version { get; init; }

    /// <summary>True where the file keeps its time of modification.</summary>
    public bool KeepsTime { get; init; }

    /// <summary>The file that was reviewed; null in runs that were begun before this was kept.</summary>
    public ReviewedFile? Reviewed { get; init; }

    /// <summary>True where the person agreed that what cannot be read of damaged tags goes.</summary>
    public bool DropsUnreadable { get; init; }
}

/// <summary>A write that is taken back.</summary>
/// <param name="ItemId">The item that wrote.</param>
public sealed record TagUndoSpec(long CopyId, long ItemId)
{
    public bool KeepsTime { get; init; }
}

/// <summary>What a write did.</summary>
/// <param name="Path">Where the file is now.</param>
/// <param name="IsInPlace">True when only the bytes that differ were written.</param>
/// <param name="BytesWritten">How many.</param>
/// <param name="Lost">What the format could not hold.</param>
public sealed record TagWriteResult(string Path, bool IsInPlace, long BytesWritten, IReadOnlyList<string> Lost);

/// <summary>How tags are written; the person's choice for all files.</summary>
/// <param name="Id3v2Version">3 or 4; null for the version that each file has.</param>
/// <param name="KeepsTime">True where files keep their time of modification.</param>
public sealed record TagSettings(int? Id3v2Version = null, bool KeepsTime = false)
{
    public const string Key = "tags";
}

/// <summary>The form in which the Tags station keeps documents.</summary>
[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase, UseStringEnumConverter = true, IgnoreReadOnlyProperties = true,
    DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull)]
[JsonSerializable(typeof(TagWriteSpec))]
[JsonSerializable(typeof(TagUndoSpec))]
[JsonSerializable(typeof(TagWriteResult))]
[JsonSerializable(typeof(TagSettings))]
[JsonSerializable(typeof(IReadOnlyList<string>))]
[JsonSerializable(typeof(IReadOnlyList<PictureChoice>))]
public sealed partial class TagsJson : JsonSerializerContext;
