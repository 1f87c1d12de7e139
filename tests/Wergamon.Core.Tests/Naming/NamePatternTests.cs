using CsCheck;
using Wergamon.Core.Naming;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Tests.Naming;

/// <summary>Names from fields and fields from names.</summary>
public sealed class NamePatternTests
{
    [Theory]
    [InlineData("{artist} - {album} - {track:00} {title}", "The Quarry Lamps - Night Shift - 03 Slatebreaker.flac")]
    [InlineData(
        "{album artist or artist}/{year} {album}/{disc \"-\"}{track:00} {title}",
        "Lamps All Stars/2021 Night Shift/2-03 Slatebreaker.flac")]
    [InlineData("{remixer or artist}/{title}{\" (\" remixer \" remix)\"}", "The Quarry Lamps/Slatebreaker.flac")]
    [InlineData("{mood}/{track:000}. {TITLE}", "003. Slatebreaker.flac")]
    [InlineData("{comment}", "AC-DC- why .flac")]
    public void Names_are_made_of_fields(string pattern, string expected)
    {
        var tags = new TagSet();
        tags.Set(FieldNames.Title, "Slatebreaker");
        tags.Set(FieldNames.Artist, "The Quarry Lamps");
        tags.Set(FieldNames.AlbumArtist, "Lamps All Stars");
        tags.Set(FieldNames.Album, "Night Shift");
        tags.Set(FieldNames.Year, "2021");
        tags.Set(FieldNames.Track, "3");
        tags.Set(FieldNames.Disc, "2");
        tags.Set(FieldNames.Comment, "AC/DC: why?");
        Assert.Equal(expected.Replace("why .flac", "why.flac", StringComparison.Ordinal), Parse(pattern).Format(tags, ".flac"));
        tags.Set(FieldNames.Disc);
        Assert.Equal("03 Slatebreaker.flac", Parse("{disc \"-\"}{track:00} {title}").Format(tags, ".flac"));
    }

    [Theory]
    [InlineData("{artist} - {title", "A brace is not closed.")]
    [InlineData("{artis} - {title}", "There is no field \"artis\". Is it {artist}?")]
    [InlineData("no field", "The pattern names no field. Write one in braces, for example {title}.")]
    [InlineData("{track:2}", "In {track:2} the width has to be zeros, for example {track:00}.")]
    [InlineData("{}", "There is a pair of braces without a field.")]
    [InlineData("title}", "There is a closing brace without an opening one.")]
    [InlineData("", "The pattern is empty.")]
    public void Invalid_pattern_is_refused_with_the_reason(string text, string problem) =>
        Assert.Equal((null, problem), NamePattern.Parse(text));

    [Theory]
    [InlineData(
        "{artist} - {album} - {track} {title}", "x/Odalys Fenn - Carbide - 01 Acetylene",
        "artist=Odalys Fenn|album=Carbide|track=1|title=Acetylene")]
    [InlineData("{track}. {title}", "07. Seam of Light", "track=7|title=Seam of Light")]
    [InlineData("{artist}-{title}", "odalys_fenn-spent_lime", "artist=odalys fenn|title=spent lime")]
    [InlineData(
        "{album artist} - {album} ({year})/{track} {title}", "in/Tin Orchard - Songs (2019)/03 Rain",
        "album artist=Tin Orchard|album=Songs|year=2019|track=3|title=Rain")]
    [InlineData("{disc \"-\"}{track:00} {title}", "2-03 Slatebreaker", "disc=2|track=3|title=Slatebreaker")]
    [InlineData("{disc \"-\"}{track:00} {title}", "03 Slatebreaker", "track=3|title=Slatebreaker")]
    [InlineData("{title} ({remixer} remix)", "Seam of Light (Tin Orchard Remix)", "title=Seam of Light|remixer=Tin Orchard")]
    [InlineData("{artist} – {title}", "Tin Orchard - Rain", "artist=Tin Orchard|title=Rain")]
    [InlineData("{track} {title}", "No number here", null)]
    [InlineData("{artist}/{title}", "no folder", null)]
    public void Fields_are_read_from_names(string pattern, string path, string? expected)
    {
        var pieces = Parse(pattern).Read(path);
        Assert.Equal(expected, pieces is null ? null : string.Join('|', pieces.Select(piece => $"{piece.Field}={piece.Value}")));
        foreach (var piece in pieces ?? [])
            Assert.Contains(
                piece.Value.Replace(' ', '_'), path.Substring(piece.Start, piece.Length).Replace(' ', '_'), StringComparison.Ordinal);
    }

    /// <summary>What a pattern writes, it reads, as long as the values hold none of its own separators.</summary>
    [Fact]
    public void Written_names_are_read_again() =>
        Gen.Select(
            Gen.String[Gen.Char["abcéдあ"], 1, 12], Gen.String[Gen.Char["xyz '"], 1, 12], Gen.Int[1, 99]).Sample((artist, title, track) =>
        {
            var tags = new TagSet();
            tags.Set(FieldNames.Artist, artist);
            tags.Set(FieldNames.Title, "t" + title.Trim());
            tags.Set(FieldNames.Track, track.ToString(System.Globalization.CultureInfo.InvariantCulture));
            var pattern = Parse("{artist}/{track:00} - {title}");
            var path = pattern.Format(tags, "");
            var back = pattern.Read(path)!;
            Assert.Equal(tags.First(FieldNames.Track), back.First(piece => piece.Field == FieldNames.Track).Value);
            Assert.Equal(path.Split('/')[0], back.First(piece => piece.Field == FieldNames.Artist).Value);
        });

    [Fact]
    public void Names_keep_to_the_limits_of_a_data_disc()
    {
        var tags = new TagSet();
        tags.Set(FieldNames.Title, new string('a', 300) + ";");
        Assert.Equal(64, Parse("{title}").Format(tags, ".mp3", NameLimits.Joliet).Length);
        Assert.True(Parse("{title}").Format(tags, ".mp3").Length < 255);
    }

    private static NamePattern Parse(string text)
    {
        var (pattern, problem) = NamePattern.Parse(text);
        Assert.Null(problem);
        return pattern!;
    }
}
