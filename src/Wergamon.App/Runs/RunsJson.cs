using System.Text.Json;
using System.Text.Json.Serialization;
using System.Text.Json.Serialization.Metadata;

namespace Wergamon.App.Runs;

[JsonSerializable(typeof(NoSpec))]
internal sealed partial class RunsJson : JsonSerializerContext;
