using System.Text.Json;
using Dapper;
using Wergamon.App.Storage;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;

namespace Wergamon.App.Library;

/// <summary>The targets with the person's own choices, which are kept from one plan to the next.</summary>
public sealed class TargetChoices(Database database)
{
    public IReadOnlyList<Target> All()
    {
        using var connection = database.Open();
        var saved = connection.Query<(string Key, string Settings)>("SELECT key, settings FROM target").ToDictionary(row => row.Key, row => row.Settings);
        return [.. Target.BuiltIn.Select(target => saved.TryGetValue(target.Key, out var settings) ? Read(settings) ?? target : target)];
    }

    /// <summary>The target of that key; the first of all when there is none.</summary>
    public Target Get(string? key)
    {
        var all = All();
        return all.FirstOrDefault(target => target.Key == key) ?? all[0];
    }

    public void Save(Target target)
    {
        database.Change(connection => connection.Execute(
            "INSERT INTO target (key, settings) VALUES (@Key, @settings) ON CONFLICT (key) DO UPDATE SET settings = excluded.settings",
            new { target.Key, settings = JsonSerializer.Serialize(target, WorkerJson.Default.Target) }));
    }

    /// <summary>Null for settings that a later version wrote.</summary>
    private static Target? Read(string settings)
    {
        try
        {
            return JsonSerializer.Deserialize(settings, WorkerJson.Default.Target) is { Encoder.IsValid: true } target ? target : null;
        }
        catch (JsonException)
        {
            return null;
        }
    }
}
