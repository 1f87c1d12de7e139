using CsCheck;
using Wergamon.Core.Tags;

namespace Wergamon.Testing;

/// <summary>Tags as people and programs make them, at random.</summary>
public static class RandomTags
{
    private static readonly string[] Names =
    [
        FieldNames.Title, FieldNames.Artist, FieldNames.AlbumArtist, FieldNames.Album, FieldNames.Composer, FieldNames.Comment,
        FieldNames.Lyrics, FieldNames.Genre,
        FieldNames.Website, FieldNames.Tempo, FieldNames.Key, FieldNames.Isrc, FieldNames.Publisher, FieldNames.Copyright,
        FieldNames.Compilation, "Lamp keeper", "energy",
    ];

    /// <summary>Any Unicode text that a person could paste: no NUL, no lone surrogates.</summary>
    private static readonly Gen<string> Text =
        Gen.OneOf(
            Gen.String.AlphaNumeric,
            Gen.OneOfConst("Ärger", "фонарь", "灯火", "قنديل", "𝄞 clef", "a/b", "(x)", "((17)", "line\nbreak", "þ ÿ", "=", "\uFEFFmark"))
            .Where(text => text.Length > 0 && !text.All(char.IsAsciiDigit));

    private static readonly Gen<Picture> Pictures = Gen.Select(
        Gen.Enum<PictureKind>(), Gen.OneOfConst("image/jpeg", "image/png"), Gen.OneOfConst("", "front", "Vorderseite ä", "灯"),
        Gen.OneOf(Gen.Byte, Gen.OneOfConst((byte)0xFF, (byte)0)).Array[0, 300],
        (kind, mimeType, description, data) => new Picture(kind, mimeType, description, data));

    /// <summary>What dialects hold in a layout of their own, and texts that they can hold as texts only.</summary>
    private static readonly Gen<(string Rating, string[] TimedLyrics, string[] Chapters)> Mapped = Gen.Select(
        Gen.OneOfConst("", "1", "4", "5", "80", "75", "99", "3.5", "0", "good"),
        Gen.Select(Gen.Int[0, 5_999_999], Text.Select(text => text.ReplaceLineEndings(" "))).Array[0, 5]
            .Select(
                lines => lines.Length == 0
                    ? []
                    : new[]
                    {
                        TimedLine.Format(lines.Select(line => new TimedLine(TimeSpan.FromMilliseconds(line.Item1), line.Item2))), "no times"
                    }[..(1 + lines.Length % 2)]),
        Gen.Select(
            Gen.Int[0, 3_000_000].Array[0, 5].Select(times => times.Order().ToArray()),
            Text.Select(text => text.ReplaceLineEndings(" ").Trim()), Gen.OneOfConst("", "no chapter"))
            .Select(
                (times, title, odd) =>
                    (string[])[
                        .. times.Select(time => new ChapterMark(TimeSpan.FromMilliseconds(time), title).ToString()),
                        .. odd.Length > 0 ? [odd] : Array.Empty<string>()
                    ]));

    public static readonly Gen<TagSet> Sets = Gen.Select(
        Gen.Select(Gen.OneOfConst(Names), Text.List[1, 3]).List[0, 12],
        Gen.OneOfConst("2021", "2021-06-12", "2021-06", "1999-12-31T23:59", "midsummer"),
        Gen.Int[1, 120], Gen.Int[0, 120], Pictures.List[0, 3], Mapped,
        (fields, year, track, total, pictures, mapped) =>
        {
            var tags = new TagSet();
            foreach (var (name, values) in fields)
                tags.Set(name, values);
            tags.Set(FieldNames.Year, year);
            tags.Set(FieldNames.Track, track.ToString(System.Globalization.CultureInfo.InvariantCulture));
            if (total > 0)
                tags.Set(FieldNames.TrackTotal, total.ToString(System.Globalization.CultureInfo.InvariantCulture));
            tags.Set(FieldNames.Rating, mapped.Rating);
            tags.Set(FieldNames.TimedLyrics, mapped.TimedLyrics);
            tags.Set(FieldNames.Chapters, mapped.Chapters);
            foreach (var picture in pictures)
                tags.Pictures.Add(picture);
            return tags;
        });

    /// <summary>All that tags hold, one line each, whatever the order of the fields: equal for equal tags.</summary>
    public static IReadOnlyList<string> Lines(TagSet tags) =>
    [
        .. tags.Fields.Select(field => field.Name.ToUpperInvariant() + "=" + string.Join('|', field.Values)).Order(StringComparer.Ordinal),
        .. tags.Pictures.Select(
            picture => $"{picture.Kind} {picture.MimeType} {picture.Description} {Convert.ToHexString(picture.Data.Span)}"),
    ];
}
