using System.Globalization;
using Dapper;
using Wergamon.App.Storage;
using Wergamon.Core.Naming;
using Wergamon.Core.Sticks;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>The devices that sticks are made for: built-in ones, with the person's changes, and custom ones.</summary>
public sealed class DeviceChoices(Database database)
{
    public IReadOnlyList<DeviceDescription> All()
    {
        using var connection = database.Open();
        var saved = connection.Query<(string Key, string Description)>("SELECT key, description FROM device")
            .ToDictionary(row => row.Key, row => row.Description);
        var own = saved.Where(row => !IsReadyMade(row.Key))
            .Select(row => DeviceFile.Read(row.Value).Device)
            .OfType<DeviceDescription>()
            .OrderBy(device => device.Name, StringComparer.OrdinalIgnoreCase);
        return [
            .. DeviceDescription.BuiltIn.Select(
                device => saved.TryGetValue(device.Key, out var description) ? DeviceFile.Read(description).Device ?? device : device),
            .. own
        ];
    }

    /// <summary>The device with a key; the first one if there is none.</summary>
    public DeviceDescription Get(string? key)
    {
        var all = All();
        return all.FirstOrDefault(device => device.Key == key) ?? all[0];
    }

    public void Save(DeviceDescription device) => database.Change(connection => connection.Execute(
        "INSERT INTO device (key, description) VALUES (@Key, @description) ON CONFLICT (key) DO UPDATE "
            + "SET description = excluded.description",
        new { device.Key, description = DeviceFile.Write(device) }));

    /// <summary>Adds a custom device; returns its key.</summary>
    public string Add(DeviceDescription device)
    {
        var known = All().Select(each => each.Key).ToHashSet(StringComparer.Ordinal);
        string stem = "own-" + string.Concat(FoldedText.Fold(device.Name).Select(c => char.IsAsciiLetterOrDigit(c) ? c : '-')).Trim('-'),
            key = stem;
        for (int number = 2; known.Contains(key); number++)
            key = string.Create(CultureInfo.InvariantCulture, $"{stem}-{number}");
        Save(device with { Key = key });
        return key;
    }

    /// <summary>Removes a custom device; a built-in one is reset.</summary>
    public void Remove(string key) => database.Change(connection => connection.Execute("DELETE FROM device WHERE key = @key", new { key }));

    public static bool IsReadyMade(string key) => DeviceDescription.BuiltIn.Any(device => device.Key == key);
}
