using System.Globalization;
using Wergamon.App.Tracks;
using Wergamon.Core.Music;
using Wergamon.Core.Sticks;
using Wergamon.Core.Tags;

namespace Wergamon.App.Sets;

/// <summary>Ratings, comments, marks, tempo and key of tracks as fields of tags, and back.</summary>
public sealed class NoteFields(SetStore store, MusicSets sets, TrackNotes notes) : ITrackNotes
{
    public ILookup<long, TagField> FieldsOf(IReadOnlyCollection<long> trackIds)
    {
        var (marks, notation) = (notes.Marks(trackIds), sets.Notation);
        var fields = new List<(long Track, TagField Field)>();
        foreach (var track in store.Tracks(
            "l.track_id IN (SELECT value FROM json_each(@list))", new { list = "[" + string.Join(',', trackIds) + "]" }))
        {
            if (track.Own.Rating is { } rating)
                Add(FieldNames.Rating, rating == 0 ? [] : [rating.ToString(CultureInfo.InvariantCulture)]);
            if (track.Own.Comment.Length > 0)
                Add(FieldNames.Comment, [track.Own.Comment]);
            if (marks[track.TrackId]
                .Select(mark => new ChapterMark(TimeSpan.FromMilliseconds(Math.Round(1000 * mark.Seconds)), mark.Title).ToString())
                .ToList() is { Count: > 0 } chapters)
                Add(FieldNames.Chapters, chapters);
            if (track is { Drifts: false, TempoFrom: FigureSource.Own or FigureSource.Measured, Tempo: { } tempo })
                Add(FieldNames.Tempo, [Number(tempo)]);
            if (track.Grid is { } grid)
                Add(StickNotes.FirstBeat, [Number(grid.FirstBeat)]);
            if (track is { Key: { } key, KeyFrom: FigureSource.Own or FigureSource.Measured })
                Add(FieldNames.Key, [notation.Write(key)]);

            void Add(string field, IReadOnlyList<string> values) => fields.Add((track.TrackId, new TagField(field, values)));
        }

        return fields.ToLookup(each => each.Track, each => each.Field);
    }

    public void Take(long trackId, TagField field)
    {
        var text = FieldText.Join(field.Values);
        switch (field.Name)
        {
            case FieldNames.Rating:
                notes.SetRating(trackId, Rating.Of(field.Values is [var first, ..] ? first : null) ?? 0);
                break;
            case FieldNames.Comment:
                notes.SetComment(trackId, text);
                break;
            case FieldNames.Chapters:
                notes.ReplaceMarks(trackId, (ChapterMark.Parse(field.Values) ?? []).Select(mark => (mark.Start.TotalSeconds, mark.Title)));
                break;
            case FieldNames.Tempo when Value(text) is { } tempo and > 0 and < 1000:
                notes.SetTempo(trackId, tempo);
                break;
            case StickNotes.FirstBeat when Value(text) is { } beat and >= 0:
                notes.SetBeat(trackId, beat);
                break;
        }
    }

    private static string Number(double value) => value.ToString("0.####", CultureInfo.InvariantCulture);

    private static double? Value(string text) =>
        double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out double value) && double.IsFinite(value) ? value : null;
}
