using Wergamon.Core.Tags;

namespace Wergamon.Core.Sticks;

/// <summary>What people change on devices, as fields of tags: rating, comment, marks, and the grid of beats.</summary>
public sealed record StickNotes(IReadOnlyDictionary<string, IReadOnlyList<string>> Values)
{
    /// <summary>Seconds to a beat; with the tempo this is the grid. The name is our own: no tag format has a field for it.</summary>
    public const string FirstBeat = "first beat";

    /// <summary>The fields, in the order in which they are shown.</summary>
    public static IReadOnlyList<string> Fields { get; } = [
        FieldNames.Rating, FieldNames.Comment, FieldNames.Chapters, FieldNames.Tempo, FirstBeat
    ];

    public static StickNotes None { get; } = new(new Dictionary<string, IReadOnlyList<string>>());

    /// <summary>Empty for a field without a value.</summary>
    public IReadOnlyList<string> this[string field] => Values.GetValueOrDefault(field) ?? [];

    public static StickNotes Of(TagSet tags) =>
        new(Fields.Where(field => tags[field].Count > 0).ToDictionary(field => field, field => tags[field]));

    public StickNotes With(string field, IReadOnlyList<string> values)
    {
        var changed = Values.ToDictionary();
        if (values.Count > 0)
            changed[field] = values;
        else
            changed.Remove(field);
        return new StickNotes(changed);
    }

    public bool HasSame(string field, StickNotes other) => this[field].SequenceEqual(other[field]);

    /// <summary>The same text for the same values.</summary>
    public override string ToString() =>
        string.Join('\n', Fields.Where(field => this[field].Count > 0).Select(field => $"{field}\0{string.Join('\0', this[field])}"));
}

/// <summary>A field that was changed on a device.</summary>
/// <param name="Here">In the library now.</param>
/// <param name="There">On the device.</param>
/// <param name="IsConflict">True where it was changed here, too, and to something else.</param>
public sealed record NoteChange(string Field, IReadOnlyList<string> Here, IReadOnlyList<string> There, bool IsConflict);
