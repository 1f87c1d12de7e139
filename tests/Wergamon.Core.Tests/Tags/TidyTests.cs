using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Tidying;

namespace Wergamon.Core.Tests.Tags;

/// <summary>Each rule by examples, all invented.</summary>
public sealed class TidyTests
{
    [Theory]
    [InlineData("Recorded in Lantern Quarry", "Recorded in Lantern Quarry")]
    [InlineData("www.cheap-tunes.example", "")]
    [InlineData("Recorded in Lantern Quarry. Downloaded from cheap-tunes.example!", "Recorded in Lantern Quarry.")]
    [InlineData("Acetylene (www.cheap-tunes.example)", "Acetylene")]
    [InlineData("Acetylene [https://cheap-tunes.example/a?b=1]", "Acetylene")]
    [InlineData("Visit us for more music", "")]
    [InlineData("Version 1.5 of No. 7, mixed by R.E. Wick", "Version 1.5 of No. 7, mixed by R.E. Wick")]
    public void Adverts_are_removed_and_the_rest_is_kept(string text, string expected)
    {
        Assert.Equal(expected, Adverts.Remove(text));
        Assert.Equal(text != expected, Adverts.IsIn(text));
    }

    [Theory]
    [InlineData("the lamp and the wick", CapitalStyle.Title, "The Lamp and the Wick")]
    [InlineData("LAST SHIFT: THE END OF IT", CapitalStyle.Title, "Last Shift: The End of It")]
    [InlineData("what the lamp is for", CapitalStyle.Title, "What the Lamp Is For")]
    [InlineData("The Lamp And The Wick", CapitalStyle.Sentence, "The lamp and the wick")]
    [InlineData("dj wick's ep, part ii", CapitalStyle.Title, "DJ Wick's EP, Part II")]
    [InlineData("mcWick plays b2b", CapitalStyle.EveryWord, "mcWick Plays b2b")]
    [InlineData("élan (ночь) mix", CapitalStyle.EveryWord, "Élan (Ночь) Mix")]
    public void Capitals_are_set_by_rule(string text, CapitalStyle style, string expected) =>
        Assert.Equal(expected, Capitals.Apply(text, style, Capitals.UsualExceptions));

    [Theory]
    [InlineData("Seam (feat. Wickwire)", "Odalys Fenn", GuestLocation.Artist, "Seam", "Odalys Fenn feat. Wickwire")]
    [InlineData(
        "Seam ft. Wickwire & Tin Orchard", "Odalys Fenn", GuestLocation.Title, "Seam (feat. Wickwire & Tin Orchard)", "Odalys Fenn")]
    [InlineData("Seam", "Odalys Fenn featuring Wickwire", GuestLocation.Title, "Seam (feat. Wickwire)", "Odalys Fenn")]
    [InlineData("Seam [Featuring Wickwire] (late mix)", "Odalys Fenn", GuestLocation.Values, "Seam (late mix)", "Odalys Fenn|Wickwire")]
    [InlineData("Featherweight", "Left Foot", GuestLocation.Artist, "Featherweight", "Left Foot")]
    public void Guests_are_named_in_one_way(string title, string artist, GuestLocation place, string newTitle, string newArtists)
    {
        var (tidied, artists) = GuestArtists.Apply(title, [artist], place);
        Assert.Equal((newTitle, newArtists), (tidied, string.Join('|', artists)));
        // A second time changes nothing.
        Assert.Equal(
            (newTitle, newArtists),
            (GuestArtists.Apply(tidied, artists, place).Title, string.Join('|', GuestArtists.Apply(tidied, artists, place).Artists)));
    }

    [Theory]
    [InlineData("2021-06-12T00:00:00", "2021-06-12", "2021")]
    [InlineData("12.06.2021", "2021-06-12", "2021")]
    [InlineData("13/06/2021", "2021-06-13", "2021")]
    [InlineData("06/13/2021", "2021-06-13", "2021")]
    [InlineData("05/06/2021", null, "2021")]
    [InlineData("June 2021", "2021-06", "2021")]
    [InlineData("12 June 2021", "2021-06-12", "2021")]
    [InlineData("2021.6", "2021-06", "2021")]
    [InlineData("2021", "2021", "2021")]
    [InlineData("summer", null, null)]
    public void Dates_get_one_form(string text, string? whole, string? year) =>
        Assert.Equal((whole, year), (Dates.Tidy(text, yearOnly: false), Dates.Tidy(text, yearOnly: true)));

    [Theory]
    [InlineData("Ð½Ð¾Ñ‡ÑŒ", "ночь")]
    [InlineData("LumiÃ¨re d'Ã©tÃ©", "Lumière d'été")]
    [InlineData("Íî÷ü", "Ночь")]
    [InlineData("Été à la mine", null)]
    [InlineData("Straße", null)]
    [InlineData("ночь", null)]
    [InlineData("plain", null)]
    public void Wrong_code_pages_are_repaired(string text, string? expected) => Assert.Equal(expected, CodePages.Repair(text));

    [Fact]
    public void Spellings_of_one_name_are_grouped()
    {
        var groups = Spellings.Groups(
            [
                "The Quarry Lamps", "Quarry Lamps", "the quarry lamps", "The Quarry Lamps", "Quarry Lamps, The", "Tin Orchard",
                "Tin Orchards", "Nine & Gate", "Nine and Gate"
            ]);
        Assert.Equal(
            ["The Quarry Lamps|Quarry Lamps|Quarry Lamps, The|the quarry lamps", "Nine & Gate|Nine and Gate"],
            groups.Select(group => string.Join('|', group.Names.Select(each => each.Name))));
    }

    [Fact]
    public void A_list_of_genres_knows_their_other_names()
    {
        var list = GenreList.Parse("Club: House, Deep House\n\nSongs\nclub: Techno\n: nothing\n");
        Assert.Equal("Club: House, Deep House, Techno\nSongs", list.ToString());
        Assert.Equal(
            ("Club", "Club", "Songs", null), (list.NameOf("DEEP-HOUSE"), list.NameOf("club"), list.NameOf("songs"), list.NameOf("Waltz")));
        var learned = list.With("Songs", "Ballad, slow");
        Assert.Equal("Songs", learned.NameOf("Ballad slow"));
        Assert.Equal(learned.ToString(), GenreList.Parse(learned.ToString()).ToString());
    }

    [Fact]
    public void Files_are_numbered_in_their_order_disc_by_disc()
    {
        TagSet[] files = [Disc("1"), Disc("1"), Disc("2"), Disc("2"), Disc("2")];
        files[3].Set(FieldNames.Track, "2");
        var changes = TidyRules.NumberInOrder(files, 1, withTotals: true)
            .Select(change => $"{change.File} {change.Field} {change.Values[0]}")
            .ToList();
        Assert.Contains("4 track 3", changes);
        Assert.DoesNotContain("3 track 2", changes);
        Assert.Contains("0 track total 2", changes);
        Assert.Contains("2 track total 3", changes);
        Assert.Equal(5, changes.Count(change => change.EndsWith("disc total 2", StringComparison.Ordinal)));
    }

    [Fact]
    public void A_rule_gives_only_what_changes()
    {
        var tags = new TagSet();
        tags.Set(FieldNames.Title, "  Two   Lamps ");
        tags.Set(FieldNames.Artist, "Wick", "Wick ");
        tags.Set(FieldNames.Album, "Fine");
        Assert.Equal(
            ["title=Two Lamps", "artist=Wick"],
            TidyRules.TidySpaces([tags]).Select(change => $"{change.Field}={string.Join('|', change.Values)}"));
        Assert.Empty(TidyRules.RemoveAdverts([tags]));
    }

    private static TagSet Disc(string number)
    {
        var tags = new TagSet();
        tags.Set(FieldNames.Disc, number);
        return tags;
    }
}
