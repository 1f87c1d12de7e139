using System.Text;
using CsCheck;
using Wergamon.Core.Naming;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Tests.Naming;

public sealed class NameTests
{
    [Theory]
    [InlineData("AC/DC: Live?", "AC-DC- Live")]
    [InlineData("..hidden", "hidden")]
    [InlineData("ends with dots...", "ends with dots")]
    [InlineData("nul", "_nul")]
    [InlineData("con.fusion", "_con.fusion")]
    [InlineData("tab\tand\nbreak", "tab and break")]
    [InlineData("   ", "unnamed")]
    [InlineData("../../etc/passwd", "-..-etc-passwd")]
    [InlineData("e\u0301", "\u00E9")]
    [InlineData("Lantern, фонарь, 灯火", "Lantern, фонарь, 灯火")]
    public void Any_text_becomes_a_safe_name(string text, string expected) => Assert.Equal(expected, SafeFileName.From(text));

    [Fact]
    public void No_text_makes_a_name_that_a_file_system_refuses() => Gen.String.Sample(text =>
    {
        var name = SafeFileName.From(text, ".flac");
        Assert.InRange(Encoding.UTF8.GetByteCount(name), 6, SafeFileName.MaxBytes);
        Assert.DoesNotContain(name, character => "/\\:*?\"<>|".Contains(character, StringComparison.Ordinal));
        Assert.DoesNotContain(name, char.IsControl);
        Assert.NotEqual('.', name[0]);
        Assert.Equal(name, name.Normalize(NormalizationForm.FormC));
    }, iter: 5000);

    [Theory]
    [InlineData("Songs/01 Cage.flac", "Songs/01 Cage.flac")]
    [InlineData("Sta\u0308dte/\u706F.mp3", "St\u00E4dte/\u706F.mp3")]
    [InlineData("a: b?.wav", "a: b?.wav")]
    [InlineData("../Songs/1.wav", null)]
    [InlineData("Songs/../../1.wav", null)]
    [InlineData("/etc/passwd", null)]
    [InlineData("Songs//1.wav", null)]
    [InlineData("Songs/.git/1.wav", null)]
    [InlineData("Songs/\0.wav", null)]
    [InlineData("Songs/\uD800.wav", null)]
    [InlineData("", null)]
    public void Upload_path_is_kept_unchanged_or_refused(string path, string? expected)
    {
        var (kept, refusal) = UploadPath.Check(path);
        Assert.Equal(expected, kept);
        Assert.Equal(expected is null, refusal is { Length: > 0 });
    }

    [Fact]
    public void No_upload_path_leaves_its_folder()
    {
        var pieces = Gen.OneOf(Gen.String, Gen.OneOfConst("..", ".", "/", "//", "~", "\\", "Songs", new string('x', 300)));
        pieces.Array[1, 40].Select(parts => string.Join('/', parts)).Sample(path =>
        {
            if (UploadPath.Check(path).Path is not { } kept)
                return;
            var whole = Path.GetFullPath(Path.Combine("/music/here", kept));
            Assert.StartsWith("/music/here/", whole, StringComparison.Ordinal);
            Assert.Equal("/music/here/" + kept, whole);
            Assert.All(kept.Split('/'), part => Assert.InRange(Encoding.UTF8.GetByteCount(part), 1, SafeFileName.MaxBytes));
        }, iter: 5000);
    }

    [Theory]
    [InlineData("3", "6", null, null, "The Quarry Lamps/Night Shift/03 Slatebreaker.mp3")]
    [InlineData("3", "120", null, null, "The Quarry Lamps/Night Shift/003 Slatebreaker.mp3")]
    [InlineData("3", "6", "2", "2", "The Quarry Lamps/Night Shift/2-03 Slatebreaker.mp3")]
    [InlineData("3", "6", "1", "1", "The Quarry Lamps/Night Shift/03 Slatebreaker.mp3")]
    [InlineData("A3", null, null, null, "The Quarry Lamps/Night Shift/A3 Slatebreaker.mp3")]
    public void A_track_is_filed_by_artist_album_and_number(string track, string? total, string? disc, string? discTotal, string expected)
    {
        var tags = new TagSet();
        tags.Set(FieldNames.Title, "Slatebreaker");
        tags.Set(FieldNames.Artist, "Guest");
        tags.Set(FieldNames.AlbumArtist, "The Quarry Lamps");
        tags.Set(FieldNames.Album, "Night Shift");
        tags.Set(FieldNames.Track, track);
        tags.Set(FieldNames.TrackTotal, total ?? "");
        tags.Set(FieldNames.Disc, disc ?? "");
        tags.Set(FieldNames.DiscTotal, discTotal ?? "");
        Assert.Equal(expected, TrackPath.For(tags, ".mp3"));
    }

    [Theory]
    [InlineData(
        "Odalys Fenn - Carbide (2024)", "02 Seam of Light",
        "album artist=Odalys Fenn;album=Carbide;year=2024;track=2;artist=Odalys Fenn;title=Seam of Light")]
    [InlineData(
        "Odalys Fenn - Carbide", "2-07. Calcium", "album artist=Odalys Fenn;album=Carbide;track=7;disc=2;artist=Odalys Fenn;title=Calcium")]
    [InlineData("downloads", "05 - Wickwire - Gangway", "track=5;artist=Wickwire;title=Gangway")]
    [InlineData("downloads", "voice_memo", "title=voice memo")]
    public void File_names_fill_missing_tags(string folder, string file, string expected) =>
        Assert.Equal(
            expected, string.Join(';', FileNameFacts.Read(folder, file).Fields.Select(field => $"{field.Name}={field.Values[0]}")));

    [Fact]
    public void A_file_with_a_title_is_trusted()
    {
        var tags = new TagSet();
        tags.Set(FieldNames.Title, "Own");
        Assert.Empty(FileNameFacts.FillGaps(tags, "A - B (2020)", "01 Other"));
        Assert.Equal("Own", tags.First(FieldNames.Title));
    }
}
