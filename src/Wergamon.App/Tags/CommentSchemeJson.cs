using System.Text.Json.Serialization;
using Wergamon.Core.Tags;

namespace Wergamon.App.Tags;

[JsonSourceGenerationOptions(PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase, IgnoreReadOnlyProperties = true)]
[JsonSerializable(typeof(CommentScheme))]
internal sealed partial class CommentSchemeJson : JsonSerializerContext;
