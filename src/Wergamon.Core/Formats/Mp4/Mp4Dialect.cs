using System.Globalization;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Formats.Mp4;

/// <summary>The item list of MP4: numbers without leading zeros, pictures without kind and description.</summary>
public sealed class Mp4Dialect : TagDialect
{
    public static Mp4Dialect Instance { get; } = new();

    private Mp4Dialect() { }

    public override string Name => "MP4 item list";

    public override string NameOf(string field) => Mp4Tags.NameOf(field);

    public override bool CanHold(PictureEntry picture) => picture is { Bytes: > 0, MimeType: "image/jpeg" or "image/jpg" or "image/png" };

    public override bool CanHold(OpaqueEntry field) => field.Dialect == Mp4Tags.Dialect;

    public override TagSet Select(TagSet tags)
    {
        var kept = base.Select(tags);
        foreach (var name in (string[])[FieldNames.Track, FieldNames.TrackTotal, FieldNames.Disc, FieldNames.DiscTotal])
            kept.Set(name, [.. kept[name].Select(WithoutLeadingZeros)]);
        kept.Set(FieldNames.Rating, [.. kept[FieldNames.Rating].Select(Rating.FromPercent)]);
        // The first picture of a file is its front cover.
        List<Picture> pictures = [.. kept.Pictures.OrderBy(picture => picture.Kind == PictureKind.Front ? 0 : 1)];
        kept.Pictures.Clear();
        foreach (var picture in pictures)
        {
            kept.Pictures.Add(picture with
            {
                Kind = kept.Pictures.Count == 0 ? PictureKind.Front : PictureKind.Other,
                MimeType = PictureSize.MimeTypeOf(picture.Data.Span) ?? (picture.MimeType == "image/png" ? picture.MimeType : "image/jpeg"),
                Description = "",
            });
        }

        return kept;
    }

    protected override long LengthOf(TagSet tags)
    {
        var boxes = new BoxWriter();
        Mp4Tags.WriteMeta(boxes, tags, []);
        Mp4Chapters.Write(boxes, tags[FieldNames.Chapters]);
        return boxes.Length;
    }

    private static string WithoutLeadingZeros(string value) =>
        ushort.TryParse(value, NumberStyles.None, CultureInfo.InvariantCulture, out ushort number) && number > 0
            ? number.ToString(CultureInfo.InvariantCulture)
            : value;
}
