using System.Security.Cryptography;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Naming;
using Wergamon.Demo.Music;
using Wergamon.Testing;

namespace Wergamon.Demo.Tests;

/// <summary>The demo is the same on every machine and holds the cases that the stations need.</summary>
public sealed class DemoTests
{
    /// <summary>Checksums of samples and pixels as first made; if they change, every demo file has changed.</summary>
    [Theory]
    [InlineData(0, 2, "3de7a43410f7a664d7d7d73a991ef05cd752747e")]
    [InlineData(1, 1, "87722a2cd045469f14fb38c73479e6d492d6725c")]
    public void Music_has_the_same_samples_everywhere(int album, int track, string expected)
    {
        var lines = Performance.Of(LanternQuarry.Albums[album].Tracks[track].Piece with { Seconds = 8 }, 44_100, 2);
        var samples = lines.SelectMany(line => line.Select(sample => (short)Math.Round(sample * 32_000)))
            .SelectMany(BitConverter.GetBytes)
            .ToArray();
        Assert.Equal(expected, Convert.ToHexStringLower(SHA256.HashData(samples))[..40]);
    }

    [Fact]
    public void Covers_have_the_same_pixels_everywhere() =>
        Assert.Equal(
            "9b3e766b8fd829f96abb2a064f9e1005779e09ac",
            Convert.ToHexStringLower(SHA256.HashData(CoverArt.Pixels(CoverPattern.Lamp)))[..40]);

    [Fact]
    public void The_pieces_differ_in_tempo_key_length_and_loudness()
    {
        var tracks = LanternQuarry.Albums.SelectMany(album => album.Tracks).ToList();
        Assert.True(LanternQuarry.Albums.Count >= 4 && tracks.Count >= 24);
        Assert.All(tracks, track => Assert.InRange(track.Piece.Seconds, 20, 45));
        Assert.True(tracks.Select(track => track.Piece.BeatsPerMinute).Distinct().Count() > 12);
        Assert.True(tracks.Select(track => track.Piece.Key).Distinct().Count() > 10);
        Assert.Contains(tracks, track => track.Piece.Loudness < 0.5);
        Assert.Contains(tracks, track => track.Piece.Loudness > 2);
    }

    [Theory]
    [InlineData("Chamber", 0.7, 0.5, 0.72)]
    [InlineData("Club", 2.0, 0.9, 0.99)]
    public void No_piece_clips_and_loud_ones_are_loud(string style, double loudness, double least, double most)
    {
        var lines = Performance.Of(new Piece(7, Enum.Parse<Style>(style), 120, 9, IsMinor: true, 6, loudness), 44_100, 2);
        Assert.InRange(lines.Max(line => line.Max(Math.Abs)), least, most);
    }

    /// <summary>Drum hits fall on the beat: the loudest part of each beat of a club piece is its start.</summary>
    [Fact]
    public void Measured_tempo_equals_the_tagged_one()
    {
        const double Tempo = 126;
        var line = Performance.Of(new Piece(9, Style.Club, Tempo, 4, IsMinor: true, 10, 0.9), 44_100, 1)[0];
        double beat = 60 / Tempo * 44_100;
        double Power(int index, double part) => line.AsSpan((int)((index + part) * beat), 2000).ToArray().Sum(sample => sample * sample);
        Assert.All(Enumerable.Range(0, 16), index => Assert.True(Power(index, 0) > Power(index, 0.75)));
    }

    [Fact]
    public void An_album_is_stored_as_its_kind_requires()
    {
        using var folder = new TemporaryFolder();
        var short1 = LanternQuarry.Albums.Select(
            album => album with { Tracks = [album.Tracks[0] with { Piece = album.Tracks[0].Piece with { Seconds = 1 } }] }).ToList();
        Assert.Equal(6, new DemoWriter(folder.Path).WriteAll(short1));
        Assert.Equal(
            [
                "Firedamp/01 Firedamp.flac", "Live in the Slate Cavern/01 Cavern Air, First Gate.flac",
                "Night Shift at Pit Four/01 Tallow and Wick.flac", "Odalys Fenn - Carbide (2024)/01 Acetylene.wav",
                "Odalys Fenn - Carbide (2024)/cover.jpg", "Songs from the Winding House/01 Cage Going Down.mp3",
                "Underlamp Club, June/01 Lantern, фонарь, 灯火.aiff"],
            Directory.GetFiles(folder.Path, "*", SearchOption.AllDirectories)
                .Select(path => string.Join('/', path.Split('/')[^2..]))
                .Order(StringComparer.Ordinal));
        using var wav = File.OpenRead(Path.Combine(folder.Path, "Odalys Fenn - Carbide (2024)", "01 Acetylene.wav"));
        var tags = FileReading.ReadTags(wav).Tags;
        Assert.True(tags.IsEmpty);
        Assert.Equal(6, FileNameFacts.FillGaps(tags, "Odalys Fenn - Carbide (2024)", "01 Acetylene").Count);
        using var flac = File.OpenRead(
            Path.Combine(folder.Path, "Nine Gate Ensemble", "Live in the Slate Cavern", "01 Cavern Air, First Gate.flac"));
        Assert.Equal(new PcmFormat(new SampleRate(48_000), 2, 24), FileReading.Read(flac).Facts!.Format);
    }
}
