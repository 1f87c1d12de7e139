using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Jobs;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Id3v2;
using Wergamon.Core.Tags.VorbisComment;

namespace Wergamon.Worker;

/// <summary>The tags that a new copy gets: those of the source, and what the plan adds.</summary>
internal static class SourceTags
{
    private const long MaxPictureBytes = 32L << 20;

    public static TagSet For(ConvertJob job)
    {
        TagSet tags;
        using (var stream = File.OpenRead(job.SourcePath))
            tags = TagFile.Read(stream).Tags;
        foreach (var field in job.ExtraFields)
            tags.Set(field.Name, field.Values);
        if (tags.Pictures.Count == 0)
        {
            foreach (var picture in job.Pictures)
            {
                var data = BoundedFile.Read(picture.Path, MaxPictureBytes);
                if (PictureSize.MimeTypeOf(data) is { } mimeType)
                    tags.Pictures.Add(new Picture(picture.Kind, mimeType, "", data));
            }
        }

        return Holdable(tags, job.OutputKind);
    }

    /// <summary>What the dialect of the new file can hold; the plan has told how much it cannot.</summary>
    private static TagSet Holdable(TagSet tags, FileKind kind)
    {
        bool flac = kind == FileKind.Flac;
        var kept = new TagSet();
        foreach (var field in tags.Fields.Where(field => !flac || VorbisCommentBlock.CanHold(field)))
            kept.Set(field.Name, field.Values);
        foreach (var picture in tags.Pictures.Where(picture => !flac || FlacTags.CanHold(picture)))
            kept.Pictures.Add(picture);
        foreach (var field in tags.Opaque.Where(field => flac ? FlacTags.CanHold(field) : Id3v2Writer.CanHold(field)))
            kept.Opaque.Add(field);
        return kept;
    }
}
