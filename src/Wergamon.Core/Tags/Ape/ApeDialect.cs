namespace Wergamon.Core.Tags.Ape;

/// <summary>APE tags: one picture of each kind, without a description; a zero separates values.</summary>
public sealed class ApeDialect : TagDialect
{
    public static ApeDialect Instance { get; } = new();

    private ApeDialect() { }

    public override string Name => "APEv2";

    public override string NameOf(string field) => ApeTagNames.KeyOf(field);

    public override bool CanHold(TagField field) => ApeTagNames.IsKey(ApeTagNames.KeyOf(field.Name));

    public override bool CanHold(PictureEntry picture) => picture.Bytes > 0;

    public override bool CanHold(OpaqueEntry field) => field.Dialect == ApeTag.Dialect;

    public override TagSet Select(TagSet tags)
    {
        var kept = base.Select(tags);
        List<Picture> pictures = [.. kept.Pictures.DistinctBy(picture => picture.Kind)];
        kept.Pictures.Clear();
        foreach (var picture in pictures)
            kept.Pictures.Add(
                picture with
                {
                    MimeType = PictureSize.MimeTypeOf(picture.Data.Span)
                        ?? (picture.MimeType == "image/png" ? picture.MimeType : "image/jpeg"),
                    Description = ""
                });
        return kept;
    }

    protected override long LengthOf(TagSet tags) => ApeTagWriter.Write(tags).Length;
}
