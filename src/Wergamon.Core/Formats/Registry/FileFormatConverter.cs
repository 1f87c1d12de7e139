using System.Text.Json;
using System.Text.Json.Serialization;

namespace Wergamon.Core.Formats.Registry;

/// <summary>Writes a format as its key.</summary>
public sealed class FileFormatConverter : JsonConverter<FileFormat>
{
    public override FileFormat? Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        FileFormats.Find(reader.GetString());

    public override void Write(Utf8JsonWriter writer, FileFormat value, JsonSerializerOptions options) =>
        writer.WriteStringValue(value.Key);
}
