using System.Globalization;
using Dapper;
using Wergamon.App.Sets;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Iff;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Music;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Id3v2;
using Wergamon.Testing;

namespace Wergamon.App.Tests.Library;

/// <summary>Tempo, key and rating of a track are the same wherever they are shown, whoever says them.</summary>
public sealed class TrackFigureTests
{
    private const int Own = 1, Tags = 2, Measured = 4;

    [Fact]
    public async Task Lists_and_sets_show_the_same_figures()
    {
        await using var app = new RunningApp();
        for (int said = 0; said < 8; said++)
            Write(app, said);
        await app.StartAsync();
        await app.ScanAsync();
        var tracks = Lines(app).ToDictionary(line => int.Parse(line.Title, CultureInfo.InvariantCulture), line => line.TrackId);
        Assert.All(tracks, track => Check(app, track.Value, track.Key & Tags));
        foreach (var (said, track) in tracks)
        {
            if ((said & Measured) > 0)
            {
                app.Get<Database>().Change(connection => connection.Execute(
                    """
                    INSERT INTO music (copy_id, tempo, first_beat, alternatives, musical_key, onsets, brightness, first_sound, last_sound)
                    SELECT id, 121.5, 0, '[]', 'G major', 1, 1, 0, 1 FROM copy WHERE track_id = @track
                    """,
                    new { track }));
            }
        }

        Assert.All(tracks, track => Check(app, track.Value, track.Key & (Tags | Measured)));
        foreach (var (said, track) in tracks)
        {
            if ((said & Own) > 0)
            {
                app.Get<TrackNotes>().SetFigures(track, 140, MusicalKey.All[0], null);
                app.Get<TrackNotes>().SetRating(track, 5);
            }
        }

        Assert.All(tracks, track => Check(app, track.Value, track.Key));
        Assert.Equal([98, 98, 121.5, 140, 140, 140, 140], Lines(app, TrackSort.Tempo).Select(line => line.Tempo).OfType<double>());
        // What the person took back is that of the others again; "none" is a rating of its own.
        foreach (var (said, track) in tracks.Where(track => (track.Key & Own) > 0))
        {
            app.Get<TrackNotes>().SetFigures(track, null, null, null);
            app.Get<TrackNotes>().SetRating(track, 0);
            Check(app, track, said & ~Own, rating: null);
        }
    }

    private static void Check(RunningApp app, long track, int said) =>
        Check(app, track, said, (said & Own) > 0 ? "5" : (said & Tags) > 0 ? "3" : null);

    private static void Check(RunningApp app, long track, int said, string? rating)
    {
        double? tempo = (said & Own) > 0 ? 140 : (said & Tags) > 0 ? 98 : (said & Measured) > 0 ? 121.5 : null;
        var key = (said & Own) > 0
            ? MusicalKey.All[0].ToString()
            : (said & Tags) > 0
            ? "A minor"
            : (said & Measured) > 0
            ? "G major"
            : null;
        var line = Lines(app).Single(line => line.TrackId == track);
        var inSet = app.Get<MusicSets>().Track(track)!;
        Assert.Equal((tempo, rating), (line.Tempo, line.Rating));
        Assert.Equal((tempo, rating, key), (inSet.Tempo, inSet.Rating, inSet.Key?.ToString()));
        Assert.Equal(key, line.MusicalKey);
    }

    private static IReadOnlyList<TrackLine> Lines(RunningApp app, TrackSort sort = TrackSort.Title) =>
        app.Get<TrackList>().Page(new TrackView("", [], null, null, sort, IsDescending: false), 0, 100);

    private static void Write(RunningApp app, int said)
    {
        var tags = new TagSet();
        tags.Set(FieldNames.Title, said.ToString(CultureInfo.InvariantCulture));
        if ((said & Tags) > 0)
        {
            tags.Set(FieldNames.Tempo, "98");
            tags.Set(FieldNames.Key, "Am");
            tags.Set("rating", "3");
        }

        var format = new PcmFormat(SampleRate.AudioDisc, 2, 16);
        using var writer = new WavWriter(
            File.Create(Path.Combine(app.Music, $"{said}.wav")), format, tail: [new TailChunk("id3 ", Id3v2Writer.Write(tags))]);
        // No two alike, or they would be copies of one track.
        TestSound.Music(format, 20_000 + 4_000 * said).CopyTo(writer);
    }
}
