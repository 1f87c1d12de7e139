using System.Text;
using System.Text.Json;
using System.Xml;
using CsCheck;
using Wergamon.Core.Bytes;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Iso9660;
using Wergamon.Core.Naming;
using Wergamon.Core.Playlists;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Tidying;
using Wergamon.Testing;

namespace Wergamon.Core.Tests.Bytes;

/// <summary>Text of every class of Unicode: through the one door, and through every place that takes text.</summary>
public sealed class WellFormedTextTests
{
    private static readonly UTF8Encoding Strict = new(false, throwOnInvalidBytes: true);

    public static TheoryData<string> Classes => [.. HostileText.Classes.Select(each => each.Class)];

    [Fact]
    public void Well_formed_text_is_accepted_everywhere() => HostileText.Any.Sample(
        text =>
        {
            var mended = WellFormedText.From(text);
            Assert.True(WellFormedText.IsWellFormed(mended));
            Assert.Same(mended, WellFormedText.From(mended));
            Assert.Equal(mended, Strict.GetString(Strict.GetBytes(mended)));
            foreach (var form in Enum.GetValues<NormalizationForm>())
                Assert.Equal(mended.Normalize(form), WellFormedText.Normalize(text, form));
            XmlConvert.VerifyXmlChars(mended);
            Assert.DoesNotContain('\0', mended);
            // Nothing that is text is lost: the scalars that stay are those of the original, in their order.
            Assert.Equal(
                text.EnumerateRunes()
                    .Where(rune => rune.Value is >= ' ' and not 0x7F or '\t' or '\n' or '\r')
                    .Select(rune => IsNoncharacter(rune) ? Rune.ReplacementChar : rune),
                mended.EnumerateRunes());
        },
        iter: 2000);

    [Fact]
    public void Every_scalar_passes_unless_it_is_a_control_or_a_noncharacter()
    {
        for (int code = 0; code <= 0x10FFFF; code++)
        {
            if (!Rune.TryCreate(code, out var rune))
                continue;
            bool isControl = code is < ' ' and not ('\t' or '\n' or '\r') or 0x7F;
            Assert.Equal(isControl ? "" : IsNoncharacter(rune) ? "\uFFFD" : rune.ToString(), WellFormedText.From(rune.ToString()));
        }
    }

    [Fact]
    public void A_cut_keeps_pairs_whole_and_the_limit() => Gen.Select(HostileText.Any, Gen.Int[1, 40]).Sample(
        (text, max) =>
        {
            var cut = WellFormedText.From(text, max);
            Assert.True(WellFormedText.IsWellFormed(cut) && cut.Length <= max);
            Assert.True(text.Length <= max || cut.EndsWith('…'));
        },
        iter: 2000);

    [Theory]
    [MemberData(nameof(Classes))]
    public void No_place_that_takes_text_throws(string name)
    {
        var text = HostileText.Classes.Single(each => each.Class == name).Text;
        TakeEverywhere(text);
        TakeEverywhere(text + "x");
        TakeEverywhere($"Odalys Fenn - {text}");
    }

    [Fact]
    public void No_place_that_takes_text_throws_over_any_mixture() => HostileText.Any.Sample(TakeEverywhere, iter: 200);

    [Fact]
    public void Json_from_outside_is_mended_or_refused()
    {
        var options = new JsonSerializerOptions { Converters = { new WellFormedTextConverter() } };
        string? Read(string json) => JsonSerializer.Deserialize<string>(json, options);
        Assert.Equal("Winch\uFFFD", Read("\"Winch\\uFFFE\""));
        Assert.Equal("CageShaft", Read("\"Cage\\u0000Shaft\""));
        Assert.Equal("🎉", Read("\"\\uD83C\\uDF89\""));
        Assert.Null(Read("null"));
        foreach (var bad in (string[])["\"\\uD83C\"", "\"\\uDF89x\"", "5", "{}", $"\"{new string('x', Limits.MaxTypedText + 1)}\""])
            Assert.Throws<JsonException>(() => Read(bad));
    }

    [Fact]
    public void Listed_tags_are_bounded_and_say_so()
    {
        var tags = new TagSet();
        tags.Set(FieldNames.Title, new string('x', 5_000_000));
        tags.Set(FieldNames.Lyrics, [.. Enumerable.Range(0, 100).Select(i => i + new string('y', 60_000))]);
        tags.Set(FieldNames.Artist, "Tin Orchard");
        var listed = ListedTags.From(tags);
        Assert.Equal(Limits.MaxListedText, listed.First(FieldNames.Title)!.Length);
        Assert.Equal(100, listed[FieldNames.Lyrics].Count);
        Assert.Equal("Tin Orchard", listed.First(FieldNames.Artist));
        Assert.True(
            listed.Fields.Sum(field => field.Values.Sum(value => value.Length)) < Limits.MaxListedTextOfFile + 101 * Limits.MaxName);
        Assert.True(ListedTags.IsCutFrom(tags.First(FieldNames.Title)!, listed.First(FieldNames.Title)!));
        Assert.False(ListedTags.IsCutFrom(tags.First(FieldNames.Title)!, "A new title"));
        var small = new TagSet();
        small.Set(FieldNames.Title, "Winch");
        Assert.Same(small, ListedTags.From(small));
    }

    /// <summary>No code normalises text past the door, which is where it would throw.</summary>
    [Fact]
    public void Only_the_door_calls_Normalize() => Assert.Equal(
        ["WellFormedText.cs"],
        Directory.EnumerateFiles(Path.Combine(Repository.Root, "src"), "*.cs", SearchOption.AllDirectories)
            .Where(
                path =>
                    File.ReadLines(path)
                        .Any(
                            line => line.Contains(".Normalize(NormalizationForm", StringComparison.Ordinal)
                                || line.Contains(".Normalize(form)", StringComparison.Ordinal)))
            .Select(Path.GetFileName));

    private static bool IsNoncharacter(Rune rune) => (rune.Value & 0xFFFE) == 0xFFFE || rune.Value is >= 0xFDD0 and <= 0xFDEF;

    private static void TakeEverywhere(string text)
    {
        FoldedText.Fold(text);
        FoldedText.SortKey(text);
        _ = FoldedText.Words(text).Count();
        UploadPath.Check(text);
        Spellings.KeyOf(text);
        Assert.True(WellFormedText.IsWellFormed(SafeFileName.From(text, ".flac")));
        Spaces.Tidy(text);
        Adverts.Remove(text);
        Capitals.Apply(text, CapitalStyle.Title, Capitals.UsualExceptions);
        CodePages.Repair(text);
        GuestArtists.Apply(text, [text], GuestLocation.Title);
        GenreList.Parse(text);
        NamePattern.Parse(text);
        PatternGuess.For([text + ".wav", $"01 {text}.wav", $"02 {text}.wav"]);
        FileNameFacts.Read(text, text);
        TimedLine.Parse(text);
        CueSheetReader.Read(text);

        var tags = new TagSet();
        tags.Set(FieldNames.Title, text);
        tags.Add(FieldNames.Artist, text);
        tags.Add(text, text);
        Assert.All(
            tags.Fields, field => Assert.True(WellFormedText.IsWellFormed(field.Name) && field.Values.All(WellFormedText.IsWellFormed)));
        Assert.True(WellFormedText.IsWellFormed(TrackPath.For(tags, ".flac")));

        var entry = new DiscTextEntry { Title = text, Performer = text, Message = text };
        DiscTextPacks.AsWritten(new DiscText(entry, new Dictionary<int, DiscTextEntry> { [1] = entry }), 1);
        CueSheetReader.Read(
            CueSheetWriter.WriteBytes(
                new CueSheet { Title = text, Performer = text, Tracks = [new CueTrack(1, "AUDIO") { Title = text }] }));
        using var image = new MemoryStream();
        IsoWriter.Write(
            image, text, [new IsoSource(SafeFileName.From(text) + "/" + SafeFileName.From(text, ".mp3"), 0, () => new MemoryStream())],
            DateTimeOffset.UnixEpoch);
        Assert.Single(IsoVolume.TryRead(image)!.Files);

        foreach (var format in PlaylistFormat.All)
        {
            var written = format.Write(
                new Playlist(
                    text,
                    [
                        new PlaylistEntry(
                            "/music/a.flac", text, text, TimeSpan.FromSeconds(60)) { Album = text, Marks = [new PlaylistMark(1, text)] }
                    ]));
            var read = PlaylistFormat.ReadAny(Strict.GetBytes(WellFormedText.From(written)));
            Assert.True(
                read is null || read.Entries.All(each => WellFormedText.IsWellFormed(each.Title + each.Artist + each.Album + each.Path)));
        }
    }
}
