using Wergamon.App.Library.Scan;
using Wergamon.App.Tracks;
using Wergamon.App.Workers;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Iff;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Id3v2;
using Wergamon.Testing;

namespace Wergamon.App.Tests.Library;

/// <summary>Lists of tracks: found, filtered, sorted, and always as the library is now.</summary>
public sealed class ListTests
{
    private static readonly TrackView All = new("", [], null, null, TrackSort.Title, false);

    [Fact]
    public async Task Lists_find_filter_and_sort_and_follow_every_change()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        // Analysed, files of the same sound would be joined.
        using var noAnalysis = app.Get<WorkerPool>().PauseBackground();
        Write(app, "10 Lamp.wav", "Lamp 10", "Ärger & Söhne", "Night Shift", 44_100, 16, picture: true);
        Write(app, "2 Lamp.wav", "lamp 2", "The Quarry Lamps", "Night Shift", 48_000, 24);
        Write(app, "фонарь/灯火.wav", "灯火のうた", "Тин Орчард", "Фонарь", 44_100, 16);
        var bare = Write(app, "bare.wav", null, null, null, 44_100, 16);
        await app.ScanAsync();
        var list = app.Get<TrackList>();

        Assert.Equal(["bare", "lamp 2", "Lamp 10", "灯火のうた"], Titles(All));
        Assert.Equal(["灯火のうた", "Lamp 10", "lamp 2", "bare"], Titles(All with { IsDescending = true }));
        Assert.Equal(["lamp 2"], list.Page(All, 1, 1).Select(line => line.Title));
        Assert.Equal(list.Page(All, 1, 2).Select(line => line.TrackId), list.Ids(All, 1, 2));
        foreach (var (words, found) in new[]
        {
            ("arger", "Lamp 10"), ("SOHN ä", "Lamp 10"), ("quar lam 2", "lamp 2"), ("火", "灯火のうた"), ("орч", "灯火のうた"),
            ("фонарь wav", "灯火のうた"), ("bare", "bare"),
        })
            Assert.Equal([found], Titles(All with { Words = words }));
        foreach (var nothing in new[] { "lampx", "\"", "*", "NOT lamp", "a OR b", "words:lamp", "')--" })
            Assert.Empty(Titles(All with { Words = nothing }));

        var counts = list.Count(All);
        Assert.Equal(
            (4, 3, 1, 0, 2, 1, 0),
            (counts.Tracks, counts.Marks[TrackFilter.NoArtwork], counts.Marks[TrackFilter.Untagged], counts.Marks[TrackFilter.LossyOnly],
                counts.Marks[TrackFilter.MixedRates], counts.Marks[TrackFilter.NotForDisc], counts.Marks[TrackFilter.Missing]));
        Assert.Equal([("WAV", 4)], counts.Formats);
        Assert.Equal(["Lamp 10"], Titles(All with { Marks = [TrackFilter.MixedRates], Words = "arger" }));
        Assert.Equal(["lamp 2"], Titles(All with { Marks = [TrackFilter.MixedRates, TrackFilter.NotForDisc] }));
        Assert.Equal(["灯火のうた"], Titles(All with { Folder = Path.Combine(app.Music, "фонарь") }));
        Assert.Empty(Titles(All with { Folder = Path.Combine(app.Music, "фон") }));
        Assert.Equal([(Path.Combine(app.Music, "фонарь"), 1)], list.FoldersBelow(app.Music));
        Assert.Equal([(app.Music, 4)], list.FoldersBelow(null));
        Assert.All(Enum.GetValues<TrackSort>(), sort => Assert.Equal(4, Titles(All with { Sort = sort }).Count));

        File.Delete(bare);
        Write(app, "2 Lamp.wav", "Wick 2", "The Quarry Lamps", "Night Shift", 44_100, 16);
        await app.ScanAsync();
        Assert.Equal(["bare"], Titles(All with { Marks = [TrackFilter.Missing] }));
        Assert.Equal(["Wick 2"], Titles(All with { Words = "wick" }));
        app.Get<MusicFolders>().Remove(app.Get<MusicFolders>().List()[0].Id);
        Assert.Empty(Titles(All));
        Assert.Equal(0, list.Count(All).Tracks);

        List<string> Titles(TrackView view) => [.. list.Page(view, 0, 100).Select(line => line.Title)];
    }

    private static string Write(
        RunningApp app, string name, string? title, string? artist, string? album, int rate, int bits, bool picture = false)
    {
        var tags = new TagSet();
        if (title is not null)
            tags.Set(FieldNames.Title, title);
        if (artist is not null)
            tags.Set(FieldNames.Artist, artist);
        tags.Set(FieldNames.AlbumArtist, artist is null ? "" : "Various");
        tags.Set(FieldNames.Album, album ?? "");
        if (picture)
            tags.Pictures.Add(new Picture(PictureKind.Front, "image/png", "", new byte[] { 0x89, (byte)'P', (byte)'N', (byte)'G' }));
        var path = Path.Combine(app.Music, name);
        Directory.CreateDirectory(Path.GetDirectoryName(path)!);
        var format = new PcmFormat(new SampleRate(rate), 2, bits);
        using var writer = new WavWriter(
            File.Create(path), format, tail: tags.IsEmpty ? [] : [new TailChunk("id3 ", Id3v2Writer.Write(tags))]);
        TestSound.Music(format, 4_410).CopyTo(writer);
        return path;
    }
}
