using Wergamon.Core.Tags.Mapping;

namespace Wergamon.Core.Tags.Id3v2;

/// <summary>
/// Frames with a layout of their own whose facts are fields too, so that other dialects can hold them: rating, timed lyrics and
/// chapters. A frame that says more than its field (who rated, how often played, pictures of chapters) is kept as bytes beside the
/// field, and written again as long as the field says the same.
/// </summary>
internal static class MappedFrames
{
    /// <summary>Makes the fields out of the frames that were kept, and drops those for which the field is enough.</summary>
    public static void Read(TagSet tags)
    {
        tags.Set(
            FieldNames.TimedLyrics,
            [.. FramesOf(tags, FieldNames.TimedLyrics).Select(TextOf).OfType<string>(), .. tags[FieldNames.TimedLyrics]]);
        if (FramesOf(tags, FieldNames.Rating)
            .Select(frame => Popularimeter.RatingOf(frame.Data.Span))
            .FirstOrDefault(rating => rating is not null) is { } rated)
            tags.Set(FieldNames.Rating, [Rating.ToText(rated), .. tags[FieldNames.Rating]]);
        if (ChapterFrames.MarksOf(FramesOf(tags, FieldNames.Chapters)) is { Count: > 0 } marks)
            tags.Set(FieldNames.Chapters, [.. marks.Select(mark => mark.ToString()), .. tags[FieldNames.Chapters]]);
        Replace(tags, FramesFor(tags));
    }

    /// <summary>Brings the kept frames of tags into agreement with their fields.</summary>
    public static void Agree(TagSet tags)
    {
        if (RatingOf(tags) is { } rating)
            tags.Set(FieldNames.Rating, [Rating.ToText(rating), .. tags[FieldNames.Rating].Skip(1)]);
        tags.Set(FieldNames.TimedLyrics, tags[FieldNames.TimedLyrics].OrderBy(text => CanSay(text) ? 0 : 1).ToList());
        Replace(tags, FramesFor(tags));
    }

    /// <summary>
    /// The kept frames of tags as they have to be written: with the rating of the field, and without what the field no longer says.
    /// </summary>
    public static IReadOnlyList<OpaqueField> FramesFor(TagSet tags)
    {
        if (!tags.Opaque.Any(frame => frame.Dialect == Id3v2FrameParser.Dialect && OpaqueFields.FieldOfFrame(frame.Id) is not null))
            return [.. tags.Opaque];
        var ratings = FramesOf(tags, FieldNames.Rating);
        int? rating = RatingOf(tags);
        var rated = ratings.Find(frame => Popularimeter.RatingOf(frame.Data.Span) is not null) ?? ratings.FirstOrDefault();
        var chapters = FramesOf(tags, FieldNames.Chapters);
        var marks = ChapterFrames.MarksOf(chapters);
        bool hasSameChapters = marks.Count == 0 || (DoSay(marks, tags[FieldNames.Chapters]) && !ChapterFrames.IsPlain(chapters, marks));
        HashSet<string> lyrics = [.. tags[FieldNames.TimedLyrics]];
        var kept = new List<OpaqueField>();
        foreach (var frame in tags.Opaque)
        {
            var field = frame.Dialect == Id3v2FrameParser.Dialect ? OpaqueFields.FieldOfFrame(frame.Id) : null;
            if (field is null)
                kept.Add(frame);
            else if (field == FieldNames.Rating
                && RatingFrame(frame, rating, ReferenceEquals(frame, rated), ratings.Count == 1) is { } changed)
                kept.Add(changed);
            else if (field == FieldNames.TimedLyrics && HasOwnFacts(frame, lyrics))
                kept.Add(frame);
            else if (field == FieldNames.Chapters && hasSameChapters)
                kept.Add(frame);
        }

        return kept;
    }

    /// <summary>The frames for a field that no kept frame says; its values that no frame can say go into user-defined frames.</summary>
    /// <param name="frames">As <see cref="FramesFor"/> gives them.</param>
    public static void Write(
        Id3v2FrameWriter writer, TagField field, TagSet tags, IReadOnlyList<OpaqueField> frames, Id3v2WriteOptions options)
    {
        switch (field.Name.ToLowerInvariant())
        {
            case FieldNames.Rating:
                int? rating = RatingOf(tags);
                if (rating is { } known && !frames.Any(frame => frame.Id == Popularimeter.Id))
                    writer.Frame(Popularimeter.Id, Popularimeter.Write(known));
                writer.Named(field.Name, [.. field.Values.Skip(rating is null ? 0 : 1)]);
                break;
            case FieldNames.Chapters:
                var said = ChapterFrames.MarksOf(frames);
                var rest = field.Values.Skip(said.Count).ToList();
                if (said.Count == 0 && ChapterMark.Parse(field.Values) is { } marks)
                {
                    foreach (var frame in ChapterFrames.Write(marks, options))
                        writer.Frame(frame.Id, frame.Data.Span);
                    rest.Clear();
                }

                writer.Named(field.Name, rest);
                break;
            default:
                var saying = new Dictionary<string, OpaqueField>();
                foreach (var frame in frames.Where(frame => frame.Id == TimedLyricsFrame.Id))
                    saying.TryAdd(TextOf(frame) ?? "", frame);
                foreach (var value in field.Values)
                {
                    if (saying.Remove(value, out var kept))
                        writer.Frame(kept.Id, kept.Data.Span);
                    else if (CanSay(value))
                        WriteTimedLyrics(writer, TimedLine.Parse(value)!);
                    else
                        writer.Named(field.Name, [value]);
                }

                break;
        }
    }

    /// <summary>True for a kept frame that <see cref="Write"/> writes, in the order of the field's values.</summary>
    public static bool IsWrittenWithField(OpaqueField frame) => frame.Id == TimedLyricsFrame.Id && TextOf(frame) is not null;

    private static void WriteTimedLyrics(Id3v2FrameWriter writer, IReadOnlyList<TimedLine> lines) =>
        writer.Frame(TimedLyricsFrame.Id, TimedLyricsFrame.Write(lines, writer.EncodingFor(lines.Select(line => line.Words))));

    private static bool CanSay(string timedLyrics) => TimedLine.Parse(timedLyrics) is { } lines && TimedLine.Format(lines) == timedLyrics;

    private static string? TextOf(OpaqueField timedLyrics) =>
        TimedLyricsFrame.LinesOf(timedLyrics.Data.Span) is { } lines ? TimedLine.Format(lines) : null;

    /// <summary>The rating that a frame can say; null for several values of which the first is no plain rating.</summary>
    private static int? RatingOf(TagSet tags) =>
        tags[FieldNames.Rating] is [var first, ..] values && (values.Count == 1 || Rating.IsPlain(first)) ? Rating.Of(first) : null;

    private static OpaqueField? RatingFrame(OpaqueField frame, int? rating, bool isRated, bool isOnly)
    {
        if (!isRated)
            return frame;
        var data = Popularimeter.With(frame.Data.Span, rating ?? 0);
        return isOnly && data.AsSpan().SequenceEqual(Popularimeter.Write(rating ?? 0))
            ? null
            : data.AsSpan().SequenceEqual(frame.Data.Span)
            ? frame
            : frame with { Data = data };
    }

    /// <summary>True where the values are these chapters; what follows them may be any text but further chapters.</summary>
    private static bool DoSay(IReadOnlyList<ChapterMark> marks, IReadOnlyList<string> values) =>
        marks.Select(mark => mark.ToString()).SequenceEqual(values.Take(marks.Count))
            && ChapterMark.Parse([.. values.Skip(marks.Count)]) is null;

    private static bool HasOwnFacts(OpaqueField frame, HashSet<string> values) =>
        TimedLyricsFrame.LinesOf(frame.Data.Span) is not { } lines
            || (values.Contains(TimedLine.Format(lines)) && !TimedLyricsFrame.IsPlain(frame.Data.Span, lines));

    private static List<OpaqueField> FramesOf(TagSet tags, string field) =>
        [.. tags.Opaque.Where(frame => frame.Dialect == Id3v2FrameParser.Dialect && OpaqueFields.FieldOfFrame(frame.Id) == field)];

    private static void Replace(TagSet tags, IReadOnlyList<OpaqueField> frames)
    {
        tags.Opaque.Clear();
        foreach (var frame in frames)
            tags.Opaque.Add(frame);
    }
}
