using Wergamon.Core.Tags;

namespace Wergamon.Core.Formats.Asf;

/// <summary>The descriptions in the header of ASF files.</summary>
public sealed class AsfDialect : TagDialect
{
    public static AsfDialect Instance { get; } = new();

    private AsfDialect() { }

    public override string Name => "ASF attributes";

    public override string NameOf(string field) => AsfTags.NameOf(field);

    public override bool CanHold(PictureEntry picture) => picture.Bytes > 0;

    public override bool CanHold(OpaqueEntry field) => field.Dialect == AsfTags.Dialect;

    public override TagSet Select(TagSet tags)
    {
        var kept = base.Select(tags);
        kept.Set(FieldNames.Rating, [.. kept[FieldNames.Rating].Select(value => Rating.IsPlain(value) ? value : AsfTags.RatingOf(value))]);
        var typed = AsfTags.TypedFor(kept);
        kept.Opaque.Clear();
        foreach (var attribute in typed)
            kept.Opaque.Add(attribute);
        return kept;
    }

    protected override long LengthOf(TagSet tags) => AsfHeaderWriter.LengthOf(tags);
}
