using System.Text.Json;
using System.Text.Json.Serialization;

namespace Wergamon.Core.Bytes;

/// <summary>
/// The door for text in JSON that comes from outside: see <see cref="WellFormedText"/>. A lone half of a pair written as an escape is an
/// error of the JSON.
/// </summary>
public sealed class WellFormedTextConverter : JsonConverter<string>
{
    public override string? Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) => reader.TokenType switch
    {
        JsonTokenType.Null => null,
        JsonTokenType.String => Mended(ref reader),
        _ => throw new JsonException("A text is expected here."),
    };

    public override string ReadAsPropertyName(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        Mended(ref reader);

    public override void Write(Utf8JsonWriter writer, string value, JsonSerializerOptions options) => writer.WriteStringValue(value);

    public override void WriteAsPropertyName(Utf8JsonWriter writer, string value, JsonSerializerOptions options) =>
        writer.WritePropertyName(value);

    private static string Mended(ref Utf8JsonReader reader)
    {
        try
        {
            var text = reader.GetString()!;
            return text.Length <= Limits.MaxTypedText
                ? WellFormedText.From(text)
                : throw new JsonException($"A text here is longer than {Limits.MaxTypedText:N0} characters.");
        }
        catch (InvalidOperationException failure)
        {
            throw new JsonException("A text here is not valid Unicode.", failure);
        }
    }
}
