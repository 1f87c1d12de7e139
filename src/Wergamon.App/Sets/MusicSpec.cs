using System.Text.Json;
using System.Text.Json.Serialization;
using Wergamon.App.Runs;
using Wergamon.Core.Music;

namespace Wergamon.App.Sets;

/// <summary>A copy whose music is analysed.</summary>
internal sealed record MusicSpec(long CopyId, string Path)
{
    public int Version { get; init; } = 1;

    public string ToJson() => JsonSerializer.Serialize(this, SetsJson.Default.MusicSpec);

    public static MusicSpec Of(RunItemRow item) => item.SpecAs(SetsJson.Default.MusicSpec);
}

/// <summary>What was found, for the report.</summary>
internal sealed record MusicResult(double? Tempo, string? Key)
{
    public string ToJson() => JsonSerializer.Serialize(this, SetsJson.Default.MusicResult);

    public static MusicResult? Of(RunItemRow item) => item.Result is null ? null : JsonSerializer.Deserialize(item.Result, SetsJson.Default.MusicResult);

    public static MusicResult Of(MusicAnalysis analysis) => new(analysis.Tempo?.Grid.BeatsPerMinute, analysis.Key?.Key.ToString());
}

[JsonSourceGenerationOptions(PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase, UseStringEnumConverter = true)]
[JsonSerializable(typeof(MusicSpec))]
[JsonSerializable(typeof(MusicResult))]
[JsonSerializable(typeof(IReadOnlyList<double>))]
[JsonSerializable(typeof(long[][]))]
[JsonSerializable(typeof(KeyNotation))]
[JsonSerializable(typeof(SetRule))]
[JsonSerializable(typeof(bool))]
internal sealed partial class SetsJson : JsonSerializerContext;
