using System.Text.Json.Serialization;
using Microsoft.AspNetCore.Antiforgery;
using Wergamon.App.Intake;
using Wergamon.App.Library;
using Wergamon.Core.Bytes;
using Wergamon.Web.Auth;

namespace Wergamon.Web.Endpoints;

[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase, UseStringEnumConverter = true, Converters = [typeof(WellFormedTextConverter)])]
[JsonSerializable(typeof(UploadStart))]
[JsonSerializable(typeof(UploadRequest))]
[JsonSerializable(typeof(UploadBatch))]
[JsonSerializable(typeof(OfferReply))]
[JsonSerializable(typeof(Arrival))]
internal sealed partial class UploadJson : JsonSerializerContext;
