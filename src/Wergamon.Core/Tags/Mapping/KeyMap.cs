using System.Collections.Frozen;

namespace Wergamon.Core.Tags.Mapping;

/// <summary>
/// One dialect's column of <see cref="FieldMap"/>, looked up both ways. Of several fields under one key, the first has it.
/// </summary>
internal sealed class KeyMap
{
    private readonly FrozenDictionary<string, string> _keys, _fields;

    /// <summary>The attributes of ASF.</summary>
    public static KeyMap Asf { get; } = new(row => row.Asf, StringComparer.OrdinalIgnoreCase);

    /// <param name="keyOf">The column; null leaves a field out.</param>
    /// <param name="comparer">How keys are compared.</param>
    /// <param name="aliases">Further keys, read only.</param>
    public KeyMap(Func<FieldKeys, string?> keyOf, StringComparer comparer, IReadOnlyList<(string Key, string Field)>? aliases = null)
    {
        var rows = FieldMap.All.Where(row => keyOf(row) is not null).Select(row => (Key: keyOf(row)!, row.Field)).ToList();
        _keys = rows.ToFrozenDictionary(row => row.Field, row => row.Key, StringComparer.OrdinalIgnoreCase);
        _fields = rows.Concat(aliases ?? [])
            .DistinctBy(row => row.Key, comparer)
            .ToFrozenDictionary(row => row.Key, row => row.Field, comparer);
    }

    /// <summary>The key of a field; null when the dialect has none for it.</summary>
    public string? KeyOf(string field) => _keys.GetValueOrDefault(field);

    /// <summary>The field under a key; null for a key without one.</summary>
    public string? FieldOf(string key) => _fields.GetValueOrDefault(key);
}
