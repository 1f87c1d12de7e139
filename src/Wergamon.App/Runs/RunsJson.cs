using System.Text.Json.Serialization;

namespace Wergamon.App.Runs;

[JsonSerializable(typeof(NoSpec))]
internal sealed partial class RunsJson : JsonSerializerContext;
