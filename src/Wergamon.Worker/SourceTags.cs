using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;

namespace Wergamon.Worker;

/// <summary>The tags that a new copy gets: those of the source, and what the plan adds.</summary>
internal static class SourceTags
{
    private const long MaxPictureBytes = 32L << 20;

    public static TagSet For(ConvertJob job)
    {
        TagSet tags;
        using (var stream = PlainFile.OpenRead(job.SourcePath))
            tags = FileReading.ReadTags(stream).Tags;
        foreach (var field in job.ExtraFields)
            tags.Set(field.Name, field.Values);
        if (tags.Pictures.Count == 0)
        {
            foreach (var picture in job.Pictures)
            {
                var data = PlainFile.ReadAll(picture.Path, MaxPictureBytes);
                if (PictureSize.MimeTypeOf(data) is { } mimeType)
                    tags.Pictures.Add(new Picture(picture.Kind, mimeType, "", data));
            }
        }

        if (job.Artwork is { } rule)
            Shape(tags, rule);
        // The plan has listed what the new file cannot hold.
        return job.Encoder.Format.Dialect.Select(tags);
    }

    /// <summary>Leaves out and shrinks pictures by the target's rule. One that cannot be decoded stays as it is.</summary>
    private static void Shape(TagSet tags, ArtworkRule rule)
    {
        var kept = rule.Select([.. tags.Pictures], picture => picture.Kind);
        tags.Pictures.Clear();
        foreach (var picture in kept)
        {
            bool isLarge = rule.MaxSize is { } most && PictureSize.Of(picture.Data.Span) is { } size
                && Math.Max(size.Width, size.Height) > most;
            tags.Pictures.Add(
                isLarge && ShapedPicture.Make(picture.Data, rule.MaxSize, isSquare: false, asPng: false) is { } smaller
                    ? picture with { MimeType = "image/jpeg", Data = smaller }
                    : picture);
        }
    }
}
