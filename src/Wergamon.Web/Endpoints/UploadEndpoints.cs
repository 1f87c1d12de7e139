using System.Text.Json.Serialization;
using Microsoft.AspNetCore.Antiforgery;
using Wergamon.App.Intake;
using Wergamon.App.Library;
using Wergamon.Web.Auth;

namespace Wergamon.Web.Endpoints;

/// <summary>What a page has to know before it can upload files.</summary>
/// <param name="Token">Antiforgery token for every change.</param>
internal sealed record UploadStart(string Token, IReadOnlyList<UploadFolder> Folders);

internal sealed record UploadFolder(long Id, string Path);

internal sealed record UploadRequest(long Folder, IReadOnlyList<OfferedFile> Files);

[JsonSourceGenerationOptions(PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase, UseStringEnumConverter = true)]
[JsonSerializable(typeof(UploadStart))]
[JsonSerializable(typeof(UploadRequest))]
[JsonSerializable(typeof(OfferReply))]
[JsonSerializable(typeof(Arrival))]
internal sealed partial class UploadJson : JsonSerializerContext;

/// <summary>Uploads to a music folder: first an offer of names and lengths, then the bytes in pieces, each with its offset.</summary>
internal static class UploadEndpoints
{
    public static void MapUploads(this WebApplication app)
    {
        var uploads = app.MapGroup("/uploads").AddEndpointFilter<AntiforgeryFilter>();
        uploads.MapGet("", (HttpContext context, IAntiforgery antiforgery, MusicFolders folders) => Json(
            new UploadStart(
                antiforgery.GetAndStoreTokens(context).RequestToken!,
                [.. folders.List().Where(folder => folder is { IsPaused: false, IsThere: true }).Select(folder => new UploadFolder(folder.Id, folder.Path))]),
            UploadJson.Default.UploadStart));
        uploads.MapPost("", (UploadRequest? offer, Uploads uploads) => offer?.Files is null || offer.Files.Any(file => file?.Path is null)
            ? Results.BadRequest()
            : Json(uploads.Offer(offer.Folder, offer.Files), UploadJson.Default.OfferReply));
        uploads.MapPut("/{id:long}", async (long id, long at, HttpContext context, Uploads uploads) =>
            await uploads.ReceiveAsync(id, at, context.Request.Body, context.RequestAborted) is { } arrival
                ? Json(arrival, UploadJson.Default.Arrival)
                : Results.NotFound());
    }

    private static IResult Json<T>(T value, System.Text.Json.Serialization.Metadata.JsonTypeInfo<T> form) => Results.Json(value, form);
}
