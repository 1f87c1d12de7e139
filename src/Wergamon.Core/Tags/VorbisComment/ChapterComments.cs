using System.Globalization;
using System.Text;

namespace Wergamon.Core.Tags.VorbisComment;

/// <summary>
/// Chapters in Vorbis comments: CHAPTER001 with the time and CHAPTER001NAME with the title (chapter extension of the Vorbis comment,
/// xiph.org). What does not keep to that stays a comment of its own name.
/// </summary>
internal sealed class ChapterComments
{
    private const string Start = "CHAPTER", NameEnd = "NAME";

    private readonly SortedDictionary<int, (string Key, string Text)> _times = [], _names = [];

    /// <summary>Takes a comment that belongs to a chapter; false for any other.</summary>
    public bool TryAdd(ReadOnlySpan<byte> key, ReadOnlySpan<byte> text)
    {
        if (key.Length < Start.Length + 3 || !Ascii.EqualsIgnoreCase(key[..Start.Length], Start)
            || !int.TryParse(key.Slice(Start.Length, 3), NumberStyles.None, CultureInfo.InvariantCulture, out int number))
            return false;
        var end = key[(Start.Length + 3)..];
        bool isName = Ascii.EqualsIgnoreCase(end, NameEnd);
        return (end.IsEmpty || isName)
            && (isName ? _names : _times).TryAdd(number, (Encoding.ASCII.GetString(key), Encoding.UTF8.GetString(text)));
    }

    /// <summary>Adds the chapters to a set; without a time for every name, and every time in order, the comments as they were.</summary>
    public void AddTo(TagSet tags)
    {
        var marks = _times.Select(
            time => ChapterMark.ParseTime(time.Value.Text) is { } start
                ? new ChapterMark(start, _names.GetValueOrDefault(time.Key).Text ?? "")
                : (ChapterMark?)null).ToList();
        var values = marks.Select(mark => mark?.ToString() ?? "").ToList();
        if (ChapterMark.Parse(values) is not null && _names.Keys.All(_times.ContainsKey))
        {
            tags.Set(FieldNames.Chapters, [.. tags[FieldNames.Chapters], .. values]);
            return;
        }

        foreach (var (key, text) in _times.Values.Concat(_names.Values))
            tags.Add(key, text);
    }

    public static IEnumerable<string> Write(IReadOnlyList<string> values)
    {
        // Values that are no chapters stand under the bare word, and are read back from there.
        if (ChapterMark.Parse(values) is not { Count: < 1000 } marks)
            return values.Select(value => $"{FieldNames.Chapters.ToUpperInvariant()}={value}");
        return marks.SelectMany((mark, i) => CommentsOf(mark, string.Create(CultureInfo.InvariantCulture, $"{Start}{i + 1:000}")));
    }

    private static IEnumerable<string> CommentsOf(ChapterMark mark, string key) =>
        mark.Title.Length > 0 ? [$"{key}={mark.StartText}", $"{key}{NameEnd}={mark.Title}"] : [$"{key}={mark.StartText}"];
}
