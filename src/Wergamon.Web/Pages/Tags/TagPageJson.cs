using System.Text.Json.Serialization;
using Wergamon.Core.Tags.Tidying;

namespace Wergamon.Web.Pages.Tags;

/// <summary>The form in which the pages keep their own choices.</summary>
[JsonSourceGenerationOptions(PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase, IgnoreReadOnlyProperties = true)]
[JsonSerializable(typeof(GenreList))]
internal sealed partial class TagPageJson : JsonSerializerContext;
