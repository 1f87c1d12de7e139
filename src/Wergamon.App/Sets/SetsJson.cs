using System.Text.Json.Serialization;
using Wergamon.Core.Music;

namespace Wergamon.App.Sets;

[JsonSourceGenerationOptions(PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase, UseStringEnumConverter = true)]
[JsonSerializable(typeof(MusicSpec))]
[JsonSerializable(typeof(MusicResult))]
[JsonSerializable(typeof(IReadOnlyList<double>))]
[JsonSerializable(typeof(long[][]))]
[JsonSerializable(typeof(KeyNotation))]
[JsonSerializable(typeof(SetRule))]
[JsonSerializable(typeof(bool))]
internal sealed partial class SetsJson : JsonSerializerContext;
