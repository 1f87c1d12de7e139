using System.Globalization;
using Wergamon.Core.Formats.Opus;
using Wergamon.Core.Music;
using Wergamon.Core.Tags;

namespace Wergamon.App.Sets;

/// <summary>Figures, words and marks of tracks as fields of tags. Unknown ones leave their field unchanged.</summary>
public static class SetTags
{
    /// <param name="held">The tags of the copy now.</param>
    public static IReadOnlyList<TagField> Of(
        SetTrack track, IEnumerable<TrackMark> marks, TagSet held, SetTagChoice choice, KeyNotation notation, CommentScheme scheme)
    {
        var fields = new List<TagField>();
        if (choice.Tempo && track is { Tempo: { } tempo, Drifts: false })
            fields.Add(new TagField(FieldNames.Tempo, [tempo.ToString("0.##", CultureInfo.InvariantCulture)]));
        if (choice.Key && track.Key is { } key)
            fields.Add(new TagField(FieldNames.Key, [notation.Write(key)]));
        if (choice.Rating && track.Own.Rating is { } rating)
            fields.Add(new TagField(FieldNames.Rating, rating == 0 ? [] : [rating.ToString(CultureInfo.InvariantCulture)]));
        if (choice.Marks
            && marks.Select(mark => new ChapterMark(TimeSpan.FromMilliseconds(Math.Round(1000 * mark.Seconds)), mark.Title).ToString())
                .ToList() is { Count: > 0 } chapters)
            fields.Add(new TagField(FieldNames.Chapters, chapters));
        if (choice.Loudness && track.Measured is { Loudness: { } loudness, TruePeak: { } peak })
            fields.AddRange(LoudnessFields.Of(loudness, peak, track.CodecName == OpusFormat.Instance.Name));
        if (choice.Comment && CommentOf(track, held, fields, scheme) is { Length: > 0 } comment)
            fields.Add(new TagField(FieldNames.Comment, [comment]));
        return fields;
    }

    /// <summary>
    /// The comment with tempo and key as they will be; the person's own one replaces what is there besides the scheme.
    /// </summary>
    private static string CommentOf(SetTrack track, TagSet held, IEnumerable<TagField> fields, CommentScheme scheme)
    {
        var after = new TagSet();
        foreach (var field in held.Fields.Concat(fields))
            after.Set(field.Name, field.Values);
        var (parts, other) = scheme.Read(FieldText.Join(held[FieldNames.Comment]));
        var ratings = parts.Ratings.ToDictionary(StringComparer.OrdinalIgnoreCase);
        if (track.Energy is { } energy
            && scheme.Scales.FirstOrDefault(scale => scale.Name.Equals(FieldNames.Energy, StringComparison.OrdinalIgnoreCase)) is { } scale)
            ratings[scale.Name] = Math.Min(energy, scale.Max);
        return scheme.Write(parts with { Ratings = ratings }, after, track.Own.Comment.Length > 0 ? track.Own.Comment : other);
    }
}
