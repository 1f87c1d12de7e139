using Wergamon.Core.Tags;

namespace Wergamon.Web.Pages.Tags;

/// <summary>What a picture shows, in words.</summary>
public static class PictureLabels
{
    /// <summary>The kinds that are offered first; the others follow.</summary>
    public static IReadOnlyList<PictureKind> Offered { get; } =
        [
            PictureKind.Front, PictureKind.Back, PictureKind.Disc, PictureKind.Artist, PictureKind.Booklet,
            .. Enum.GetValues<PictureKind>()
                .Except([PictureKind.Front, PictureKind.Back, PictureKind.Disc, PictureKind.Artist, PictureKind.Booklet])
        ];

    public static string Of(PictureKind kind) => kind switch
    {
        PictureKind.FileIcon => "file icon",
        PictureKind.OtherIcon => "other icon",
        PictureKind.LeadArtist => "lead artist",
        PictureKind.BandLogo => "band logo",
        PictureKind.PublisherLogo => "publisher logo",
        _ => kind.ToString().ToLowerInvariant(),
    };
}
