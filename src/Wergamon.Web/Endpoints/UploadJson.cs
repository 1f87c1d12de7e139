using System.Text.Json.Serialization;
using Wergamon.App.Intake.Upload;
using Wergamon.Core.Bytes;

namespace Wergamon.Web.Endpoints;

[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase, UseStringEnumConverter = true, Converters = [typeof(WellFormedTextConverter)])]
[JsonSerializable(typeof(UploadStart))]
[JsonSerializable(typeof(UploadRequest))]
[JsonSerializable(typeof(UploadBatch))]
[JsonSerializable(typeof(OfferReply))]
[JsonSerializable(typeof(Arrival))]
internal sealed partial class UploadJson : JsonSerializerContext;
