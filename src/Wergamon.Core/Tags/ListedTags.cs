using Wergamon.Core.Bytes;

namespace Wergamon.Core.Tags;

/// <summary>
/// What of a file's tags is listed, searched and compared: bounded pieces of its text, so that one file costs no more than others. The
/// whole stays in the file, and is carried over from there.
/// </summary>
public static class ListedTags
{
    /// <summary>
    /// The tags with values of at most <see cref="Limits.MaxListedText"/>; the same instance where nothing has to be cut.
    /// </summary>
    public static TagSet From(TagSet tags)
    {
        if (tags.Fields.Sum(field => field.Values.Sum(value => (long)value.Length)) <= Limits.MaxListedText
            && tags.Fields.All(field => field.Name.Length <= Limits.MaxName))
            return tags;
        var listed = new TagSet();
        int left = Limits.MaxListedTextOfFile;
        foreach (var field in tags.Fields)
        {
            foreach (var value in field.Values)
            {
                var piece = WellFormedText.Cut(value, Math.Clamp(left, Limits.MaxName, Limits.MaxListedText));
                left = Math.Max(0, left - piece.Length);
                listed.Add(WellFormedText.Cut(field.Name, Limits.MaxName), piece);
            }
        }

        foreach (var picture in tags.Pictures)
            listed.Pictures.Add(picture);
        foreach (var field in tags.Opaque)
            listed.Opaque.Add(field);
        return listed;
    }

    /// <summary>True for a listed value of which the file holds more.</summary>
    /// <param name="whole">The value in the file.</param>
    /// <param name="listed">The value as it is listed, or as it was changed there.</param>
    public static bool IsCutFrom(string whole, string listed) =>
        whole.Length > Limits.MaxName && whole.Length > listed.Length && listed.EndsWith('…') && !whole.EndsWith('…');
}
