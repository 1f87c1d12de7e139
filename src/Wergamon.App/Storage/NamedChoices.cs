using System.Data;
using System.Globalization;
using Dapper;
using Wergamon.Core.Naming;

namespace Wergamon.App.Storage;

/// <summary>
/// A list of things to choose from: those built in, with the person's changes, and the person's own, each under a key. The table has
/// a key and one document for each that is changed or added.
/// </summary>
public abstract class NamedChoices<T>(Database database, ChoiceTable table, IReadOnlyList<T> builtIn)
    where T : class
{
    /// <summary>Those built in, in their order, then the own ones by name.</summary>
    public IReadOnlyList<T> All()
    {
        using var connection = database.Open();
        var saved = connection.Query<(string Key, string Document)>($"SELECT key, {table.Column} FROM {table.Name}")
            .ToDictionary(row => row.Key, row => row.Document);
        var own = saved.Where(row => !IsBuiltIn(row.Key))
            .Select(row => Read(row.Value))
            .OfType<T>()
            .OrderBy(NameOf, StringComparer.OrdinalIgnoreCase);
        return [
            .. builtIn.Select(choice => saved.TryGetValue(KeyOf(choice), out var document) ? Read(document) ?? choice : choice), .. own
        ];
    }

    /// <summary>The choice with a key; the first one if there is none.</summary>
    public T Get(string? key)
    {
        var all = All();
        return all.FirstOrDefault(choice => KeyOf(choice) == key) ?? all[0];
    }

    public void Save(T choice) => database.Change(connection => connection.Execute(
        $"INSERT INTO {table.Name} (key, {table.Column}) VALUES (@key, @document) ON CONFLICT (key) DO UPDATE "
            + $"SET {table.Column} = excluded.{table.Column}",
        new { key = KeyOf(choice), document = Write(choice) }));

    /// <summary>Adds an own choice; returns its key.</summary>
    public string Add(T choice)
    {
        var known = All().Select(KeyOf).ToHashSet(StringComparer.Ordinal);
        string stem = "own-" + string.Concat(FoldedText.Fold(NameOf(choice)).Select(c => char.IsAsciiLetterOrDigit(c) ? c : '-')).Trim('-'),
            key = stem;
        for (int number = 2; known.Contains(key); number++)
            key = string.Create(CultureInfo.InvariantCulture, $"{stem}-{number}");
        Save(WithKey(choice, key));
        return key;
    }

    /// <summary>Removes an own choice; one that is built in is reset.</summary>
    public void Remove(string key) =>
        database.Change(connection => connection.Execute($"DELETE FROM {table.Name} WHERE key = @key", new { key }));

    public bool IsBuiltIn(string key) => builtIn.Any(choice => KeyOf(choice) == key);

    /// <summary>True for one that is built in and that the person has changed.</summary>
    public bool IsChanged(T choice) =>
        builtIn.FirstOrDefault(ready => KeyOf(ready) == KeyOf(choice)) is { } ready && Write(ready) != Write(choice);

    protected abstract string KeyOf(T choice);

    protected abstract string NameOf(T choice);

    protected abstract T WithKey(T choice, string key);

    protected abstract string Write(T choice);

    /// <summary>Null for a document written by a later version.</summary>
    protected abstract T? Read(string document);
}

/// <summary>Where choices are kept.</summary>
/// <param name="Name">Of a table with the column <c>key</c>.</param>
/// <param name="Column">Holds the document.</param>
public sealed record ChoiceTable(string Name, string Column);
