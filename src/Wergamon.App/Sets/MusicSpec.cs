using System.Text.Json;
using System.Text.Json.Serialization;
using Wergamon.App.Runs;
using Wergamon.Core.Music;

namespace Wergamon.App.Sets;

/// <summary>A copy whose music is analysed.</summary>
public sealed record MusicSpec(long CopyId, string Path);

/// <summary>What was found, for the report.</summary>
public sealed record MusicResult(double? Tempo, string? Key)
{
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
