using System.Text.Json;
using System.Text.Json.Serialization;
using Wergamon.App.Storage;
using Wergamon.Core.Tags;

namespace Wergamon.App.Tags;

[JsonSourceGenerationOptions(PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase, IgnoreReadOnlyProperties = true)]
[JsonSerializable(typeof(CommentScheme))]
internal sealed partial class CommentSchemeJson : JsonSerializerContext;
