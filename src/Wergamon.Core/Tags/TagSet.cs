using System.Globalization;
using Wergamon.Core.Audio;

namespace Wergamon.Core.Tags;

/// <summary>One field with its values in order; never without a value, never with an empty one.</summary>
/// <param name="Name">A name of <see cref="FieldNames"/>, or the name that the file used. Case does not tell names apart.</param>
public sealed record TagField(string Name, IReadOnlyList<string> Values);

/// <summary>
/// A field that only one dialect understands (a rating frame, a private frame, an application block): kept as bytes and written
/// back when the target speaks the same dialect.
/// </summary>
/// <param name="Dialect">"ID3v2" or "FLAC".</param>
/// <param name="Id">Frame identifier, or block type in decimal.</param>
public sealed record OpaqueField(string Dialect, string Id, ReadOnlyMemory<byte> Data);

/// <summary>The tags of a file, independent of their dialect.</summary>
public sealed class TagSet
{
    private readonly List<TagField> _fields = [];

    /// <summary>The text fields in the order of the file.</summary>
    public IReadOnlyList<TagField> Fields => _fields;

    public IList<Picture> Pictures { get; } = [];

    public IList<OpaqueField> Opaque { get; } = [];

    public bool IsEmpty => _fields.Count == 0 && Pictures.Count == 0 && Opaque.Count == 0;

    public IReadOnlyList<string> this[string name] => Find(name) is var at and >= 0 ? _fields[at].Values : [];

    public string? First(string name) => this[name] is [var first, ..] ? first : null;

    /// <summary>The first value as a whole number; null where it is missing or not one.</summary>
    public int? Number(string name) =>
        int.TryParse(First(name), NumberStyles.None, CultureInfo.InvariantCulture, out int number) ? number : null;

    /// <summary>Appends a value to a field; an empty one and one that the field has already are left out.</summary>
    public void Add(string name, string value)
    {
        if (value.Length == 0 || name.Length == 0)
            return;
        int at = Find(name);
        if (at < 0)
            _fields.Add(new TagField(name, [value]));
        else if (!_fields[at].Values.Contains(value))
            _fields[at] = _fields[at] with { Values = [.. _fields[at].Values, value] };
    }

    /// <summary>Appends a value; a track or disc number written as "3/12" is two facts.</summary>
    public void AddNumbered(string name, string value)
    {
        var totalName = name switch { FieldNames.Track => FieldNames.TrackTotal, FieldNames.Disc => FieldNames.DiscTotal, _ => null };
        if (totalName is not null && value.Split('/') is [var number, var total])
        {
            Add(name, number.Trim());
            Add(totalName, total.Trim());
        }
        else
        {
            Add(name, value);
        }
    }

    /// <summary>Replaces a field whole; no values remove it.</summary>
    public void Set(string name, params IEnumerable<string> values)
    {
        int at = Find(name);
        string[] kept = [.. values.Where(value => value.Length > 0).Distinct()];
        if (at >= 0 && kept.Length == 0)
            _fields.RemoveAt(at);
        else if (at >= 0)
            _fields[at] = _fields[at] with { Values = kept };
        else if (kept.Length > 0)
            _fields.Add(new TagField(name, kept));
    }

    private int Find(string name) => _fields.FindIndex(field => field.Name.Equals(name, StringComparison.OrdinalIgnoreCase));
}
