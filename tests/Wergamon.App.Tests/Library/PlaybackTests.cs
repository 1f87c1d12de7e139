using Wergamon.App.Library.Listening;
using Wergamon.App.Tracks;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Wav;
using Wergamon.Testing;

namespace Wergamon.App.Tests.Library;

/// <summary>Copies that browsers cannot play are streamed as WAV while they are being decoded.</summary>
public sealed class PlaybackTests
{
    [Fact]
    public async Task A_lossless_copy_is_heard_sample_for_sample_from_any_place()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        var format = new PcmFormat(new SampleRate(44_100), 2, 24);
        EncodedFile.Write(Path.Combine(app.Music, "x.m4a"), "mp4", "alac", TestSound.Music(format, 200_000));
        await app.ScanAsync();
        var copy = Assert.Single(app.Get<LibraryQueries>().TracksOfAlbum(1)).Master;
        Assert.Null(Playback.BrowserType(copy));
        var expected = SampleDigest.Of(TestSound.Music(format, 200_000));
        // From the middle first, while it is still being decoded; then whole.
        await using (var ahead = await app.Get<Playback>().OpenAsync(copy, CancellationToken.None))
        {
            ahead.Position = ahead.Length / 2;
            Assert.True(await ahead.ReadAsync(new byte[4_096]) > 0);
        }

        await using var stream = await app.Get<Playback>().OpenAsync(copy, CancellationToken.None);
        using var whole = new MemoryStream();
        await stream.CopyToAsync(whole);
        Assert.Equal(WavWriter.FileLength(format, 200_000, 0), whole.Length);
        whole.Position = 0;
        using var reader = new WavReader(whole);
        Assert.Equal(expected, SampleDigest.Of(reader));
    }

    [Fact]
    public async Task Undecodable_file_is_refused_with_the_reason_and_tried_again()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        var path = EncodedFile.Write(
            Path.Combine(app.Music, "x.wv"), "wv", "wavpack", TestSound.Music(new PcmFormat(new SampleRate(44_100), 2, 16), 50_000));
        await app.ScanAsync();
        var copy = Assert.Single(app.Get<LibraryQueries>().TracksOfAlbum(1)).Master;
        File.WriteAllText(path, "no sound any more");
        for (int attempt = 0; attempt < 2; attempt++)
            Assert.NotEmpty(
                (await Assert.ThrowsAsync<UnreadableAudioException>(
                        () => app.Get<Playback>().OpenAsync(copy, CancellationToken.None))).Message);
    }
}
