using System.Text.Json;
using System.Text.Json.Serialization;

namespace Wergamon.Devices.Drives;

/// <summary>The note beside a disc image: its label and its faults.</summary>
public sealed record RackNote(string Label, string Note, IReadOnlyList<DiscFault> Faults)
{
    /// <summary>The kind of blank that a burned disc was; null for a pressed one.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? BlankKey { get; init; }

    /// <summary>True for a burned disc that was left open.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool IsOpen { get; init; }

    private const int MaxBytes = 1 << 20;

    /// <summary>The note of a disc; an empty one where it has none.</summary>
    internal static RackNote Read(string folder, string key)
    {
        var path = PathOf(folder, key);
        var empty = new RackNote(key, "", []);
        return PlainFile.Exists(path)
            ? JsonSerializer.Deserialize(PlainFile.ReadAll(path, MaxBytes), RackJson.Default.RackNote) ?? empty
            : empty;
    }

    internal void Write(string folder, string key) =>
        PlainFile.Write(PathOf(folder, key), JsonSerializer.SerializeToUtf8Bytes(this, RackJson.Default.RackNote));

    private static string PathOf(string folder, string key) => Path.Combine(folder, key + ".json");
}
