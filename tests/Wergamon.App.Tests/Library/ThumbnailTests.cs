using Dapper;
using Wergamon.App.Library.Listening;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.Core.Tags;
using Wergamon.Testing;

namespace Wergamon.App.Tests.Library;

/// <summary>Covers in the size that lists show.</summary>
public sealed class ThumbnailTests
{
    [Fact]
    public async Task A_cover_is_made_small_once_and_then_kept()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        var cover = DemoCover();
        var hash = await AddAsync(app, cover.Data.ToArray());
        var small = (await app.Get<Thumbnails>().GetAsync(hash, 128))!;
        Assert.Equal(new PictureSize(128, 128), PictureSize.Of(small.Data));
        Assert.Equal(("image/jpeg", true), (small.MimeType, small.Data.Length < cover.Data.Length / 2));
        using var connection = app.Get<Database>().Open();
        Assert.Equal([128], connection.Query<int>("SELECT size FROM thumbnail WHERE hash = @hash", new { hash }));
        Assert.Equal(small.Data, (await app.Get<Thumbnails>().GetAsync(hash, 128))!.Data);
        Assert.Empty(Directory.GetFiles(Path.Combine(app.Options.DataFolder, "thumbnails")));
    }

    /// <summary>A file that only claims to be a picture, and a truncated one, are served as they are.</summary>
    [Theory]
    [InlineData(20)]
    [InlineData(3000)]
    public async Task Damaged_picture_is_kept_and_costs_no_worker(int length)
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        var data = DemoCover().Data.ToArray()[..length];
        var hash = await AddAsync(app, data);
        var shown = (await app.Get<Thumbnails>().GetAsync(hash, 256))!;
        Assert.True(shown.Data.SequenceEqual(data) || PictureSize.Of(shown.Data) is { Width: 256 });
        Assert.Null(await app.Get<Thumbnails>().GetAsync(new string('0', 64), 256));
    }

    private static Picture DemoCover()
    {
        using var stream = File.OpenRead(
            Directory.GetFiles(WebServer.DemoMusic, "*.flac", SearchOption.AllDirectories).Order(StringComparer.Ordinal).First());
        return Core.Formats.Registry.FileReading.ReadTags(stream).Tags.Pictures[0];
    }

    /// <summary>A track whose folder has a picture; returns the picture's hash.</summary>
    private static async Task<string> AddAsync(RunningApp app, byte[] picture)
    {
        app.AddTrack(1, 0.5);
        await File.WriteAllBytesAsync(Path.Combine(app.Music, "cover.jpg"), picture);
        await app.ScanAsync();
        var library = app.Get<LibraryQueries>();
        return library.Album(library.Albums()[0].Id)!.CoverHash!;
    }
}
