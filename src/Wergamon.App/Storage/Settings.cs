using System.Text.Json;
using System.Text.Json.Serialization.Metadata;
using Dapper;

namespace Wergamon.App.Storage;

/// <summary>Settings that do not belong to an album, disc or target.</summary>
public sealed class Settings(Database database)
{
    /// <summary>The default of the type where nothing has been written.</summary>
    public T? Read<T>(string key, JsonTypeInfo<T> form)
    {
        using var connection = database.Open();
        var value = connection.QueryFirstOrDefault<string>("SELECT value FROM setting WHERE key = @key", new { key });
        return value is null ? default : JsonSerializer.Deserialize(value, form);
    }

    public void Write<T>(string key, T value, JsonTypeInfo<T> form)
    {
        database.Change(connection => connection.Execute(
            "INSERT INTO setting (key, value) VALUES (@key, @value) ON CONFLICT (key) DO UPDATE SET value = excluded.value",
            new { key, value = JsonSerializer.Serialize(value, form) }));
    }

    public void Remove(string key)
    {
        database.Change(connection => connection.Execute("DELETE FROM setting WHERE key = @key", new { key }));
    }
}
