using System.Text.Json.Serialization;
using Wergamon.Core.Formats;
using Wergamon.Core.Jobs;
using Wergamon.Core.Tags;

namespace Wergamon.App.Convert;

/// <summary>A file of a plan that is not in the library, as read when the plan was made.</summary>
/// <param name="Root">The folder that it was dropped with, perhaps with others.</param>
/// <param name="FileBytes">Its size.</param>
/// <param name="ModifiedAt">Milliseconds since 1970.</param>
/// <param name="Fields">Its text fields, those from its name included.</param>
/// <param name="FromName">Names of the fields that its name gave, for lack of tags.</param>
public sealed record PlanFile(
    string Path, string Root, long FileBytes, long ModifiedAt, AudioFacts Facts, IReadOnlyList<JobField> Fields,
    IReadOnlyList<string> FromName)
{
    public IReadOnlyList<PictureEntry> Pictures { get; init; } = [];

    public IReadOnlyList<OpaqueEntry> Opaque { get; init; } = [];

    public string? FolderCoverPath { get; init; }

    [JsonIgnore]
    public TagContents Contents => new([.. Fields.Select(known => new TagField(known.Name, known.Values))], Pictures, Opaque);

    public string? First(string name) => Fields.FirstOrDefault(known => known.Name == name)?.Values is [var first, ..] ? first : null;
}
