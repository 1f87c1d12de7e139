using System.Globalization;
using Wergamon.Core.Bytes;

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

/// <summary>
/// The tags of a file, independent of their dialect. Adding a value costs the same however many there are. All text in it is well formed
/// (<see cref="WellFormedText"/>), wherever it came from.
/// </summary>
public sealed class TagSet
{
    /// <summary>
    /// From this count on, fields and the values of a field are looked up by hash; few are found sooner by going through them.
    /// </summary>
    private const int Many = 16;

    private readonly List<TagField> _fields = [];
    private Dictionary<string, int>? _places;
    private Dictionary<string, HashSet<string>>? _many;
    private int _count;

    /// <summary>The text fields in the order of the file.</summary>
    public IReadOnlyList<TagField> Fields => _fields;

    public IList<Picture> Pictures { get; } = [];

    public IList<OpaqueField> Opaque { get; } = [];

    /// <summary>True when values were left out because there were too many.</summary>
    public bool IsCut { get; private set; }

    public bool IsEmpty => _fields.Count == 0 && Pictures.Count == 0 && Opaque.Count == 0;

    public IReadOnlyList<string> this[string name] => PlaceOf(name) is >= 0 and var at ? _fields[at].Values : [];

    public string? First(string name) => this[name] is [var first, ..] ? first : null;

    /// <summary>
    /// The first value as a number of a track or disc, or a total; null where it is missing, no number or beyond
    /// <see cref="Limits.MaxTrackNumber"/>.
    /// </summary>
    public int? Number(string name) =>
        int.TryParse(First(name), NumberStyles.None, CultureInfo.InvariantCulture, out int number) && number <= Limits.MaxTrackNumber
            ? number
            : null;

    /// <summary>Appends a value to a field; an empty one and one that the field has already are left out.</summary>
    public void Add(string name, string value)
    {
        (name, value) = (WellFormedText.From(name), WellFormedText.From(value));
        if (value.Length == 0 || name.Length == 0)
            return;
        if (_count == Limits.MaxTagValues)
        {
            IsCut = true;
            return;
        }

        int at = PlaceOf(name);
        if (at < 0)
            Append(name, [value]);
        else if (IsNew(name, _fields[at].Values, value))
            ((List<string>)_fields[at].Values).Add(value);
        else
            return;
        _count++;
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

    /// <summary>Takes the fields that are missing here from other tags of the same file, and its pictures if there are none here.</summary>
    public void AddMissing(TagSet other)
    {
        foreach (var field in other.Fields.Where(field => PlaceOf(field.Name) < 0).ToList())
            Set(field.Name, field.Values);
        foreach (var picture in Pictures.Count == 0 ? other.Pictures : [])
            Pictures.Add(picture);
        foreach (var field in other.Opaque)
            Opaque.Add(field);
    }

    /// <summary>Replaces a field whole; no values remove it.</summary>
    public void Set(string name, params IEnumerable<string> values)
    {
        name = WellFormedText.From(name);
        List<string> kept = values is IReadOnlyList<string> and [{ Length: > 0 } only] && WellFormedText.IsWellFormed(only)
            ? [only]
            : [.. values.Select(value => WellFormedText.From(value)).Where(value => value.Length > 0).Distinct()];
        _many?.Remove(name);
        int at = PlaceOf(name);
        if (at < 0)
        {
            if (kept.Count > 0)
                Append(name, kept);
            _count += kept.Count;
            return;
        }

        _count += kept.Count - _fields[at].Values.Count;
        if (kept.Count > 0)
            _fields[at] = _fields[at] with { Values = kept };
        else
            RemoveAt(at);
    }

    private int PlaceOf(string name)
    {
        if (_places is not null)
            return _places.GetValueOrDefault(name, -1);
        for (int i = 0; i < _fields.Count; i++)
        {
            if (_fields[i].Name.Equals(name, StringComparison.OrdinalIgnoreCase))
                return i;
        }

        return -1;
    }

    private void Append(string name, List<string> values)
    {
        _fields.Add(new TagField(name, values));
        if (_places is not null)
            _places[name] = _fields.Count - 1;
        else if (_fields.Count == Many)
            _places = Enumerable.Range(0, Many).ToDictionary(at => _fields[at].Name, StringComparer.OrdinalIgnoreCase);
    }

    private void RemoveAt(int at)
    {
        _places?.Remove(_fields[at].Name);
        _fields.RemoveAt(at);
        for (; _places is not null && at < _fields.Count; at++)
            _places[_fields[at].Name] = at;
    }

    private bool IsNew(string name, IReadOnlyList<string> values, string value)
    {
        if (values.Count < Many)
            return !values.Contains(value);
        _many ??= new(StringComparer.OrdinalIgnoreCase);
        if (!_many.TryGetValue(name, out var known))
            _many[name] = known = [.. values];
        return known.Add(value);
    }
}
