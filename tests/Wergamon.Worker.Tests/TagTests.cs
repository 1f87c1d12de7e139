using System.Security.Cryptography;
using System.Text.Json.Nodes;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;
using Wergamon.Testing;
using Wergamon.Testing.Outside;

namespace Wergamon.Worker.Tests;

/// <summary>
/// Tags and pictures against python3-mutagen 1.46 and TagLib 1.13: they read what we write, and we read and keep what mutagen writes.
/// </summary>
public sealed class TagTests(WorkerFixture worker) : IClassFixture<WorkerFixture>
{
    [Theory]
    [InlineData("pocket-player")]
    [InlineData("dj-stick")]
    [InlineData("plain")]
    public async Task Id3_tags_that_we_write_are_read_by_mutagen(string key)
    {
        var target = StandardTargets.BuiltIn.First(t => t.Key == key);
        var output = worker.Folder["written" + target.Format.Extension];
        await worker.ProveAsync(Source("for-" + key), output, target, TestTags.Everything(), TestTags.PictureFile(worker.Folder));
        var read = Mutagen.Read(output);
        Assert.Equal(["Blue Slate Rain, фонарь"], Values(read, "TIT2"));
        Assert.Equal(["Tin Orchard", "Wickwire"], Values(read, "TPE1"));
        Assert.Equal(["Tin Orchard"], Values(read, "TPE2"));
        Assert.Equal(["Songs from the Winding House"], Values(read, "TALB"));
        Assert.Equal(["3/9"], Values(read, "TRCK"));
        Assert.Equal(["1/2"], Values(read, "TPOS"));
        // mutagen joins TYER and TDAT of version 2.3 to one date.
        Assert.Equal(["2019-06-21"], Values(read, "TDRC"));
        Assert.Equal(["Songs"], Values(read, "TCON"));
        Assert.Equal(["A note\nin two lines"], Values(read, "COMM::eng"));
        Assert.Equal(["Rain, rain"], Values(read, "USLT::eng"));
        Assert.Equal(["76"], Values(read, "TBPM"));
        Assert.Equal(["灯"], Values(read, "TXXX:Lamp keeper"));
        AssertPicture(read);
    }

    [Fact]
    public async Task Vorbis_comments_that_we_write_are_read_by_mutagen()
    {
        var output = worker.Folder["written.flac"];
        await worker.ProveAsync(
            Source("for-flac"), output, StandardTargets.BuiltIn[0], TestTags.Everything(), TestTags.PictureFile(worker.Folder));
        var read = Mutagen.Read(output);
        Assert.Equal(["Blue Slate Rain, фонарь"], Values(read, "TITLE"));
        Assert.Equal(["Tin Orchard", "Wickwire"], Values(read, "ARTIST"));
        Assert.Equal(["3"], Values(read, "TRACKNUMBER"));
        Assert.Equal(["9"], Values(read, "TRACKTOTAL"));
        Assert.Equal(["2"], Values(read, "DISCTOTAL"));
        Assert.Equal(["2019-06-21"], Values(read, "DATE"));
        Assert.Equal(["A note\nin two lines"], Values(read, "COMMENT"));
        Assert.Equal(["灯"], Values(read, "LAMP KEEPER"));
        AssertPicture(read);
    }

    /// <summary>A target's rule for artwork: the front alone, small enough for the player, read back and proved.</summary>
    [Fact]
    public async Task Artwork_is_left_out_and_made_smaller_for_a_target()
    {
        var source = worker.Folder["large-artwork.flac"];
        await worker.ProveAsync(Source("large-artwork"), source, StandardTargets.BuiltIn[0]);
        var cover = await File.ReadAllBytesAsync(Path.Combine(WebServer.DemoRack, "01-lamp-room.jpg"));
        using (var stream = File.Open(source, FileMode.Open))
        {
            var tags = FileReading.ReadTags(stream).Tags;
            tags.Pictures.Add(new Picture(PictureKind.Back, "image/jpeg", "", cover));
            tags.Pictures.Add(new Picture(PictureKind.Front, "image/jpeg", "Vorderseite ä", cover));
            var whole = new MemoryStream();
            ((TaggedFormat)FileFormats.Of(stream)!).RewriteTags(stream, whole, tags);
            stream.SetLength(0);
            whole.WriteTo(stream);
        }

        var copy = worker.Folder["small-artwork.mp3"];
        await worker.ProveAsync(source, copy, StandardTargets.BuiltIn[1] with { Artwork = new ArtworkRule(ArtworkChoice.FrontOnly, 300) });
        using var made = File.OpenRead(copy);
        var picture = Assert.Single(FileReading.ReadTags(made).Tags.Pictures);
        var size = PictureSize.Of(picture.Data.Span)!.Value;
        Assert.Equal(
            (PictureKind.Front, "Vorderseite ä", 300, 300, false),
            (picture.Kind, picture.Description, size.Width, size.Height, PictureSize.IsProgressive(picture.Data.Span)));
        Assert.InRange(picture.Data.Length, 1, cover.Length / 2);

        await worker.ProveAsync(
            source, worker.Folder["no-artwork.mp3"], StandardTargets.BuiltIn[1] with { Artwork = new ArtworkRule(ArtworkChoice.None) });
        Assert.Empty(Mutagen.Read(worker.Folder["no-artwork.mp3"])["pictures"]!.AsArray());
    }

    [Theory]
    [InlineData("archive")]
    [InlineData("pocket-player")]
    [InlineData("dj-stick")]
    [InlineData("plain")]
    public async Task Tags_that_we_write_are_read_by_TagLib(string key)
    {
        var target = StandardTargets.BuiltIn.First(t => t.Key == key);
        var output = worker.Folder["for-taglib" + target.Format.Extension];
        await worker.ProveAsync(Source("taglib-" + key), output, target, TestTags.Everything(), TestTags.PictureFile(worker.Folder));
        var read = LibTag.Read(output);
        Assert.Equal(
            ("Blue Slate Rain, фонарь", "Songs from the Winding House", "A note\nin two lines", "Songs", 2019, 3, 44_100, 2),
            (read.Title, read.Album, read.Comment, read.Genre, read.Year, read.Track, read.SampleRate, read.Channels));
        // TagLib joins several artists with a space, or in version 2.3 tags with the separator found there.
        Assert.StartsWith("Tin Orchard", read.Artist, StringComparison.Ordinal);
        Assert.EndsWith("Wickwire", read.Artist, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(3, 1)]
    [InlineData(4, 3)]
    [InlineData(4, 2)]
    [InlineData(3, 0)]
    public async Task Id3_tags_written_by_mutagen_are_kept_complete(int version, int encoding)
    {
        var mp3 = worker.Folder[$"mutagen-{version}-{encoding}.mp3"];
        await worker.ProveAsync(Source($"m{version}{encoding}"), mp3, StandardTargets.BuiltIn[1]);
        var title = encoding == 0 ? "Blue Släte" : "фонарь 灯火";
        Mutagen.Write(mp3, new JsonObject
        {
            ["version"] = version,
            ["encoding"] = encoding,
            ["picture"] = TestTags.PictureFile(worker.Folder),
            ["frames"] = new JsonArray(
                Frame("TIT2", "", title), Frame("TPE1", "", "One", "Two"), Frame("TRCK", "", "4/12"), Frame("TDRC", "", "2020-03-04"),
                Frame("TCON", "", "(17)"),
                Frame("COMM", "", "plain"), Frame("COMM", "shop", "advert"), Frame("TXXX", "Lamp keeper", "Hollis"),
                Frame("WXXX", "", "http://lantern.example/"), Frame("POPM", "a@lantern.example", "196")),
        });

        using (var stream = File.OpenRead(mp3))
        {
            var tags = FileReading.ReadTags(stream).Tags;
            Assert.Equal([title], tags[FieldNames.Title]);
            Assert.Equal(["One", "Two"], tags[FieldNames.Artist]);
            Assert.Equal((4, 12), (tags.Number(FieldNames.Track), tags.Number(FieldNames.TrackTotal)));
            Assert.Equal(["2020-03-04"], tags[FieldNames.Year]);
            Assert.Equal(["Rock"], tags[FieldNames.Genre]);
            Assert.Equal(["plain"], tags[FieldNames.Comment]);
            Assert.Equal(["advert"], tags["comment:shop"]);
            Assert.Equal(["http://lantern.example/"], tags[FieldNames.Website]);
            Assert.Equal(TestTags.PictureBytes, Assert.Single(tags.Pictures).Data.ToArray());
            Assert.Equal("Vorderseite ä", tags.Pictures[0].Description);
        }

        // The rating frame is not in the model, but a copy in the same dialect keeps it.
        var copy = worker.Folder[$"mutagen-{version}-{encoding}.aiff"];
        await worker.ProveAsync(mp3, copy, StandardTargets.BuiltIn[2]);
        using (var stream = File.OpenRead(copy))
            Assert.Contains(FileReading.ReadTags(stream).Tags.Opaque, field => field.Id == "POPM");
        AssertPicture(Mutagen.Read(copy), "Vorderseite ä");
    }

    [Fact]
    public async Task Vorbis_comments_written_by_mutagen_are_kept_complete()
    {
        var flac = worker.Folder["mutagen.flac"];
        await worker.ProveAsync(Source("mf"), flac, StandardTargets.BuiltIn[0]);
        Mutagen.Write(flac, new JsonObject
        {
            ["picture"] = TestTags.PictureFile(worker.Folder),
            ["fields"] = new JsonObject
            {
                ["title"] = new JsonArray("灯火"),
                ["artist"] = new JsonArray("One", "Two"),
                ["tracknumber"] = new JsonArray("4/12"),
                ["odd field"] = new JsonArray("kept")
            },
        });
        var copy = worker.Folder["from-mutagen.mp3"];
        var proof = await worker.ProveAsync(flac, copy, StandardTargets.BuiltIn[1]);
        Assert.Equal((5, 1), (proof.FieldsKept, proof.PicturesKept));
        var read = Mutagen.Read(copy);
        Assert.Equal(["灯火"], Values(read, "TIT2"));
        Assert.Equal(["4/12"], Values(read, "TRCK"));
        Assert.Equal(
            ["kept"],
            read.Single(pair => pair.Key.Equals("TXXX:odd field", StringComparison.OrdinalIgnoreCase)).Value!.AsArray()
                .Select(node => node!.GetValue<string>()));
        AssertPicture(read, "Vorderseite ä");
    }

    private static JsonArray Frame(string id, string description, params string[] values) =>
        new(id, description, new JsonArray([.. values.Select(value => JsonValue.Create(value))]));

    private static IEnumerable<string> Values(JsonObject read, string key) =>
        read[key]?.AsArray().Select(node => node!.GetValue<string>()) ?? ["(missing)"];

    private static void AssertPicture(JsonObject read, string description = "")
    {
        var picture = Assert.Single(read["pictures"]!.AsArray())!.AsArray();
        Assert.Equal(
            (3, "image/png", description, System.Convert.ToHexStringLower(SHA256.HashData(TestTags.PictureBytes))),
            (picture[0]!.GetValue<int>(), picture[1]!.GetValue<string>(), picture[2]!.GetValue<string>(), picture[3]!.GetValue<string>()));
    }

    private string Source(string name) => worker.MakeWav(name + ".wav", new PcmFormat(SampleRate.AudioDisc, 2, 16), 8000, music: true);
}
