using System.Text.Json;
using System.Text.Json.Serialization;

namespace Wergamon.Core.Sync;

/// <summary>Keeps keys in documents as their text.</summary>
public sealed class SyncKeyConverter : JsonConverter<SyncKey>
{
    public override SyncKey Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        reader.GetString() is { Length: > 0 } text
            ? SyncKey.TryParse(text) ?? throw new JsonException($"“{text}” is no key of a file that is kept in step.")
            : default;

    public override void Write(Utf8JsonWriter writer, SyncKey value, JsonSerializerOptions options) =>
        writer.WriteStringValue(value.ToString());
}
