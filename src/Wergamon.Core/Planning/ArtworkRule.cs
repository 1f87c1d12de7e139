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

    /// <summary>Whether the n-th picture of a file stays; without a front cover, the first picture counts as one.</summary>
    /// <param name="kinds">The kinds of all pictures, in order.</param>
    public bool Keeps(IReadOnlyList<PictureKind> kinds, int index) => Choice switch
    {
        ArtworkChoice.None => false,
        ArtworkChoice.FrontOnly => index == Math.Max(0, kinds.ToList().IndexOf(PictureKind.Front)),
        _ => true,
    };

    /// <summary>The contents of a copy by this rule, with the sizes that pictures will have at most.</summary>
    public TagContents ApplyTo(TagContents contents)
    {
        if (this == Everything)
            return contents;
        var kinds = contents.Pictures.Select(picture => picture.Kind).ToList();
        long most = MaxSize is { } size ? (long)(BytesPerPixel * size * size) : long.MaxValue;
        return contents with { Pictures = [.. contents.Pictures.Where((_, index) => Keeps(kinds, index)).Select(picture => picture with { Bytes = Math.Min(picture.Bytes, most) })] };
    }

    /// <summary>"front, at most 500 px".</summary>
    public override string ToString() =>
        Choice == ArtworkChoice.None ? "none"
        : (Choice == ArtworkChoice.FrontOnly ? "front" : "all") + (MaxSize is { } size ? string.Create(System.Globalization.CultureInfo.InvariantCulture, $", at most {size} px") : ", as it is");
}
