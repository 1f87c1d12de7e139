using Wergamon.App.Tracks;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;

namespace Wergamon.App.Copies;

/// <summary>
/// How a track of the library becomes a copy, whatever the copy is for: its master copy as a source for the planner, and what was planned
/// as the copy to be made.
/// </summary>
internal static class TrackSources
{
    /// <summary>The master copy of a track as a source.</summary>
    /// <param name="known">What its analysis found; null before that.</param>
    /// <param name="fields">What the copy gets besides the tags of the file, and in their place.</param>
    public static PlanSource SourceOf(TrackRow track, TagContents contents, KnownSound? known, IEnumerable<JobField> fields)
    {
        var master = track.Master;
        return new PlanSource(
            track.Id, master.Facts, master.Fidelity, master.FileBytes, NamesOf(contents, track.Title, track.AlbumTitle, fields), contents,
            master.TagsFromName)
        {
            Known = known,
            Path = master.Path,
            ModifiedAt = master.ModifiedAt,
            Generation = master.Generation,
        };
    }

    /// <summary>The fields that names are made of.</summary>
    /// <param name="title">For a file without one.</param>
    /// <param name="album">For a file without one.</param>
    public static TagSet NamesOf(TagContents contents, string title, string? album, IEnumerable<JobField> fields)
    {
        var tags = new TagSet();
        foreach (var field in contents.Fields)
            tags.Set(field.Name, field.Values);
        if (tags[FieldNames.Title].Count == 0)
            tags.Set(FieldNames.Title, title);
        if (tags[FieldNames.Album].Count == 0 && !string.IsNullOrEmpty(album))
            tags.Set(FieldNames.Album, album);
        foreach (var field in fields)
            tags.Set(field.Name, field.Values);
        return tags;
    }

    /// <summary>A planned copy of a track.</summary>
    /// <param name="fields">What it gets besides the tags of its source, and in their place.</param>
    public static CopySpec CopyOf(TrackRow track, PlanItem item, IReadOnlyList<JobField> fields)
    {
        var master = track.Master;
        return CopyOf(item, master.Path, fields, master.FolderCoverPath) with
        {
            TrackId = track.Id,
            SourceCopyId = master.Id,
            Generation = master.Generation + item.Route.AddedGenerations,
            BytesBefore = master.FileBytes,
        };
    }

    /// <summary>A planned copy of a file that the library need not know.</summary>
    /// <param name="coverPath">A picture beside the file, for a file without one of its own.</param>
    public static CopySpec CopyOf(PlanItem item, string path, IReadOnlyList<JobField> fields, string? coverPath) => new()
    {
        Target = item.Target,
        OutputFolder = item.Folder,
        RelativePath = item.RelativePath,
        OnConflict = item.Target.OnConflict,
        Steps = item.Route.InWords,
        Fidelity = item.Route.ResultFidelity,
        Generation = item.Route.AddedGenerations,
        BytesBefore = item.Source.FileBytes,
        Job = new ConvertJob(
            path, item.Source.Facts.Format, item.Route.StepsBeforeEncoding(), item.Target.Encoder, "", fields,
            coverPath is null ? [] : [new JobPicture(PictureKind.Front, coverPath)])
        {
            Artwork = item.Target.Artwork,
            TagOptions = new TagWriteOptions(item.Target.Id3v2Version),
            Level = item.Target.Level,
        },
    };
}
