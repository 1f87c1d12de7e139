using Wergamon.Core.Tags;

namespace Wergamon.Core.Planning;

public enum ArtworkChoice
{
    All,
    FrontOnly,
    None,
}

/// <summary>Which pictures a copy gets.</summary>
/// <param name="MaxSize">The longer side at most, in pixels: larger ones are made smaller, as baseline JPEG; null for any.</param>
public sealed record ArtworkRule(ArtworkChoice Choice, int? MaxSize = null)
{
    /// <summary>What a JPEG of covers takes a pixel, for estimates (common practice, no source).</summary>
    private const double BytesPerPixel = 0.25;

    public static ArtworkRule Everything { get; } = new(ArtworkChoice.All);

    /// <summary>The pictures of a file that stay; without a front cover, the first picture counts as one.</summary>
    public IReadOnlyList<T> Select<T>(IReadOnlyList<T> pictures, Func<T, PictureKind> kindOf) => Choice switch
    {
        ArtworkChoice.None => [],
        ArtworkChoice.FrontOnly => [.. pictures.OrderBy(picture => kindOf(picture) != PictureKind.Front).Take(1)],
        _ => pictures,
    };

    /// <summary>The contents of a copy by this rule, with the sizes that pictures will have at most.</summary>
    public TagContents ApplyTo(TagContents contents)
    {
        if (this == Everything)
            return contents;
        long most = MaxSize is { } size ? (long)(BytesPerPixel * size * size) : long.MaxValue;
        return contents with
        {
            Pictures = [
                .. Select(contents.Pictures, picture => picture.Kind)
                    .Select(picture => picture with { Bytes = Math.Min(picture.Bytes, most) })
            ]
        };
    }

    /// <summary>"front, at most 500 px".</summary>
    public override string ToString() =>
        Choice == ArtworkChoice.None ? "none"
        : (Choice == ArtworkChoice.FrontOnly ? "front" : "all")
            + (
                MaxSize is { } size
                    ? string.Create(System.Globalization.CultureInfo.InvariantCulture, $", at most {size} px")
                    : ", as it is");
}
