using Wergamon.App.Tags;

namespace Wergamon.Web.Pages.Tags;

/// <summary>Untidiness in words, with what helps.</summary>
public static class UntidyLabels
{
    public static string Of(UntidyKind kind) => kind switch
    {
        UntidyKind.NoTitleOrArtist => "No title or artist",
        UntidyKind.NoAlbum => "No album",
        UntidyKind.NoNumber => "No track number",
        UntidyKind.NumberGaps => "Numbers with gaps or repeats",
        UntidyKind.NoFrontCover => "No cover",
        UntidyKind.AlbumArtistDiffers => "Inconsistent album artist within an album",
        UntidyKind.YearDiffers => "Inconsistent year within an album",
        UntidyKind.GenreDiffers => "Inconsistent genre within an album",
        UntidyKind.CoverDiffers => "Inconsistent cover within an album",
        UntidyKind.Adverts => "Adverts and web addresses",
        UntidyKind.ArtistSpellings => "Artist spelt in several ways",
        _ => "Text in a wrong code page",
    };

    public static string Advice(UntidyKind kind) => kind switch
    {
        UntidyKind.NoTitleOrArtist or UntidyKind.NoAlbum => "File names often contain it: see From names.",
        UntidyKind.NoNumber or UntidyKind.NumberGaps => "Tidy can number files in their order.",
        UntidyKind.NoFrontCover => "Artwork looks in the folder and in the album.",
        UntidyKind.AlbumArtistDiffers or UntidyKind.YearDiffers or UntidyKind.GenreDiffers =>
            "The first row of the sheet writes one value to all.",
        UntidyKind.CoverDiffers => "Artwork puts one picture into all files of the album.",
        UntidyKind.Adverts => "Tidy removes them from comments and titles.",
        UntidyKind.ArtistSpellings => "Tidy groups them; choose one of each.",
        _ => "Tidy shows the text in the right one.",
    };

    /// <summary>The tab on which it is corrected.</summary>
    public static string TabFor(UntidyKind kind) => kind switch
    {
        UntidyKind.NoTitleOrArtist or UntidyKind.NoAlbum => "/names",
        UntidyKind.NoNumber or UntidyKind.NumberGaps => "/tidy?rule=number",
        UntidyKind.NoFrontCover or UntidyKind.CoverDiffers => "/artwork",
        UntidyKind.Adverts => "/tidy?rule=adverts",
        UntidyKind.ArtistSpellings => "/tidy?rule=spellings",
        UntidyKind.WrongCodePage => "/tidy?rule=code-page",
        _ => "",
    };
}
