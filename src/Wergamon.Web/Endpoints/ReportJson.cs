using System.Globalization;
using System.Text;
using System.Text.Json;
using System.Text.Json.Serialization;
using Wergamon.App.Runs;
using Wergamon.Core.Naming;
using Wergamon.Web.Display;

namespace Wergamon.Web.Endpoints;

[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase, WriteIndented = true,
    DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull)]
[JsonSerializable(typeof(RunReport))]
internal sealed partial class ReportJson : JsonSerializerContext;
