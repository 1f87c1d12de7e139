using CsCheck;
using Wergamon.Core.Tags;

namespace Wergamon.Testing;

/// <summary>Tags as people and programs make them, at random.</summary>
public static class RandomTags
{
    private static readonly string[] Names =
    [
        FieldNames.Title, FieldNames.Artist, FieldNames.AlbumArtist, FieldNames.Album, FieldNames.Composer, FieldNames.Comment, FieldNames.Lyrics, FieldNames.Genre,
        FieldNames.Website, FieldNames.Tempo, FieldNames.Key, FieldNames.Isrc, FieldNames.Publisher, FieldNames.Copyright, FieldNames.Compilation, "Lamp keeper", "energy",
    ];

    /// <summary>Any Unicode text that a person could paste: no NUL, no lone surrogates.</summary>
    private static readonly Gen<string> Text =
        Gen.OneOf(Gen.String.AlphaNumeric, Gen.OneOfConst("Ärger", "фонарь", "灯火", "قنديل", "𝄞 clef", "a/b", "(x)", "((17)", "line\nbreak", "þ ÿ", "=", "\uFEFFmark"))
            .Where(text => text.Length > 0 && !text.All(char.IsAsciiDigit));

    private static readonly Gen<Picture> Pictures = Gen.Select(
        Gen.Enum<PictureKind>(), Gen.OneOfConst("image/jpeg", "image/png"), Gen.OneOfConst("", "front", "Vorderseite ä", "灯"),
        Gen.OneOf(Gen.Byte, Gen.OneOfConst((byte)0xFF, (byte)0)).Array[0, 300],
        (kind, mimeType, description, data) => new Picture(kind, mimeType, description, data));

    public static readonly Gen<TagSet> Sets = Gen.Select(
        Gen.Select(Gen.OneOfConst(Names), Text.List[1, 3]).List[0, 12],
        Gen.OneOfConst("2021", "2021-06-12", "2021-06", "1999-12-31T23:59", "midsummer"),
        Gen.Int[1, 120], Gen.Int[0, 120], Pictures.List[0, 3],
        (fields, year, track, total, pictures) =>
        {
            var tags = new TagSet();
            foreach (var (name, values) in fields)
                tags.Set(name, values);
            tags.Set(FieldNames.Year, year);
            tags.Set(FieldNames.Track, track.ToString(System.Globalization.CultureInfo.InvariantCulture));
            if (total > 0)
                tags.Set(FieldNames.TrackTotal, total.ToString(System.Globalization.CultureInfo.InvariantCulture));
            foreach (var picture in pictures)
                tags.Pictures.Add(picture);
            return tags;
        });

    /// <summary>All that tags hold, one line each, whatever the order of the fields: equal for equal tags.</summary>
    public static IReadOnlyList<string> Lines(TagSet tags) =>
    [
        .. tags.Fields.Select(field => field.Name.ToUpperInvariant() + "=" + string.Join('|', field.Values)).Order(StringComparer.Ordinal),
        .. tags.Pictures.Select(picture => $"{picture.Kind} {picture.MimeType} {picture.Description} {Convert.ToHexString(picture.Data.Span)}"),
    ];
}
