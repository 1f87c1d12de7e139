using System.Text.Json;
using System.Text.Json.Serialization;

namespace Wergamon.Core.Sticks;

/// <summary>Keeps keys in documents as their text.</summary>
public sealed class StickKeyConverter : JsonConverter<StickKey>
{
    public override StickKey Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        reader.GetString() is { Length: > 0 } text
            ? StickKey.TryParse(text) ?? throw new JsonException($"“{text}” is no key of a file on a stick.")
            : default;

    public override void Write(Utf8JsonWriter writer, StickKey value, JsonSerializerOptions options) =>
        writer.WriteStringValue(value.ToString());
}
