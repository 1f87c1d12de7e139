using System.Text.Json;

namespace Wergamon.App.Tags;

/// <summary>A change that is not written yet.</summary>
public sealed record TagEditRow
{
    public long CopyId { get; init; }

    public EditKind Kind { get; init; }

    /// <summary>The name of the field; empty for other kinds.</summary>
    public string Field { get; init; } = "";

    /// <summary>JSON, by kind.</summary>
    public string Value { get; init; } = "";

    /// <summary>True when the person has excluded it for now.</summary>
    public bool IsLeftOut { get; init; }

    public IReadOnlyList<string> Values => JsonSerializer.Deserialize(Value, TagsJson.Default.IReadOnlyListString)!;

    public IReadOnlyList<PictureChoice> Pictures => JsonSerializer.Deserialize(Value, TagsJson.Default.IReadOnlyListPictureChoice)!;
}
