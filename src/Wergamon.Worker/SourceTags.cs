using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Formats;
using Wergamon.Core.Jobs;
using Wergamon.Core.Tags;

namespace Wergamon.Worker;

/// <summary>The tags that a new copy gets: those of the source, and what the plan adds.</summary>
internal static class SourceTags
{
    private const long MaxPictureBytes = 32L << 20;

    public static TagSet For(ConvertJob job)
    {
        TagSet tags;
        using (var stream = File.OpenRead(job.SourcePath))
            tags = FileReading.ReadTags(stream).Tags;
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

        // The plan has said what the new file cannot hold.
        return job.Encoder.Format.Dialect.Select(tags);
    }
}
