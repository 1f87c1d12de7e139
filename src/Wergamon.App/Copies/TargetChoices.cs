using System.Globalization;
using System.Text.Json;
using Dapper;
using Wergamon.App.Storage;
using Wergamon.Core.Naming;
using Wergamon.Core.Planning;

namespace Wergamon.App.Copies;

/// <summary>The targets with the person's own settings, which are kept from one plan to the next.</summary>
public sealed class TargetChoices(Database database)
{
    public IReadOnlyList<Target> All()
    {
        using var connection = database.Open();
        var saved = connection.Query<(string Key, string Settings)>("SELECT key, settings FROM target")
            .ToDictionary(row => row.Key, row => row.Settings);
        var own = saved.Where(row => !IsReadyMade(row.Key))
            .Select(row => Read(row.Value))
            .OfType<Target>()
            .OrderBy(target => target.Name, StringComparer.OrdinalIgnoreCase);
        return [
            .. StandardTargets.BuiltIn.Select(
                target => saved.TryGetValue(target.Key, out var settings) ? Read(settings) ?? target : target),
            .. own
        ];
    }

    /// <summary>The target with a key; the first one if there is none.</summary>
    public Target Get(string? key)
    {
        var all = All();
        return all.FirstOrDefault(target => target.Key == key) ?? all[0];
    }

    public void Save(Target target)
    {
        database.Change(connection => connection.Execute(
            "INSERT INTO target (key, settings) VALUES (@Key, @settings) ON CONFLICT (key) DO UPDATE SET settings = excluded.settings",
            new { target.Key, settings = JsonSerializer.Serialize(target, PlanningJson.Default.Target) }));
    }

    /// <summary>Adds a custom target; returns its key.</summary>
    public string Add(Target target)
    {
        var known = All().Select(each => each.Key).ToHashSet(StringComparer.Ordinal);
        string stem = "own-" + string.Concat(FoldedText.Fold(target.Name).Select(c => char.IsAsciiLetterOrDigit(c) ? c : '-')).Trim('-'),
            key = stem;
        for (int number = 2; known.Contains(key); number++)
            key = string.Create(CultureInfo.InvariantCulture, $"{stem}-{number}");
        Save(target with { Key = key });
        return key;
    }

    /// <summary>Removes a custom target; a built-in one is reset.</summary>
    public void Remove(string key) => database.Change(connection => connection.Execute("DELETE FROM target WHERE key = @key", new { key }));

    private static bool IsReadyMade(string key) => StandardTargets.BuiltIn.Any(target => target.Key == key);

    /// <summary>Null for settings written by a later version.</summary>
    private static Target? Read(string settings)
    {
        try
        {
            return JsonSerializer.Deserialize(settings, PlanningJson.Default.Target) is { Problem: null } target ? target : null;
        }
        catch (JsonException)
        {
            return null;
        }
    }
}
