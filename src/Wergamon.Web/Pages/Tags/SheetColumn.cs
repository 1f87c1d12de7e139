using Wergamon.Core.Tags;

namespace Wergamon.Web.Pages.Tags;

/// <summary>A field as a column of the sheet.</summary>
/// <param name="Width">In pixels.</param>
public sealed record SheetColumn(string Name, string Label, int Width, bool IsNumber)
{
    public static IReadOnlyList<string> Usual { get; } = [
        FieldNames.Track, FieldNames.Title, FieldNames.Artist, FieldNames.Album, FieldNames.Year, FieldNames.Genre, FieldNames.Comment
    ];

    public static SheetColumn Of(string name) => new(name, LabelOf(name), WidthOf(name), IsNumeric(name));

    /// <summary>The name of a field as a heading.</summary>
    public static string LabelOf(string name) => name switch
    {
        FieldNames.Track => "No.",
        FieldNames.TrackTotal => "Of",
        FieldNames.Disc => "Disc",
        FieldNames.DiscTotal => "Discs",
        FieldNames.Isrc => "ISRC",
        _ => char.ToUpperInvariant(name[0]) + name[1..],
    };

    private static int WidthOf(string name) => name switch
    {
        FieldNames.Track or FieldNames.TrackTotal or FieldNames.Disc or FieldNames.DiscTotal => 64,
        FieldNames.Year or FieldNames.Tempo or FieldNames.OriginalYear => 92,
        FieldNames.Key or FieldNames.Compilation => 100,
        FieldNames.Title => 210,
        FieldNames.Comment or FieldNames.Lyrics or FieldNames.Album or FieldNames.Website => 180,
        _ => 150,
    };

    private static bool IsNumeric(string name) =>
        name is FieldNames.Track or FieldNames.TrackTotal or FieldNames.Disc or FieldNames.DiscTotal or FieldNames.Year
            or FieldNames.OriginalYear or FieldNames.Tempo;
}
