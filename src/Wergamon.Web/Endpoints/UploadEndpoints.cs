using Microsoft.AspNetCore.Antiforgery;
using Wergamon.App.Intake.Upload;
using Wergamon.App.Library.Scan;
using Wergamon.Web.Auth;

namespace Wergamon.Web.Endpoints;

/// <summary>The limits that a page needs before it can upload files.</summary>
/// <param name="Token">Antiforgery token for every change.</param>
internal sealed record UploadStart(string Token, IReadOnlyList<UploadFolder> Folders);

internal sealed record UploadFolder(long Id, string Path);

/// <param name="Folder">A music folder; 0 for a batch.</param>
/// <param name="Batch">Files to be converted that are not added to a music folder; null for a music folder.</param>
internal sealed record UploadRequest(long Folder, long? Batch, IReadOnlyList<OfferedFile> Files);

/// <param name="Batch">Its number, for offers.</param>
internal sealed record UploadBatch(long Batch);

/// <summary>Uploads to a music folder: first an offer of names and lengths, then the bytes in pieces, each with its offset.</summary>
internal static class UploadEndpoints
{
    public static void MapUploads(this WebApplication app)
    {
        var uploads = app.MapGroup("/uploads").AddEndpointFilter<AntiforgeryFilter>();
        uploads.MapGet("", (HttpContext context, IAntiforgery antiforgery, MusicFolders folders) => Json(
            new UploadStart(
                antiforgery.GetAndStoreTokens(context).RequestToken!,
                [
                    .. folders.List()
                        .Where(folder => folder is { IsPaused: false, IsThere: true })
                        .Select(folder => new UploadFolder(folder.Id, folder.Path))
                ]),
            UploadJson.Default.UploadStart));
        uploads.MapPost("", (UploadRequest? offer, Uploads uploads) => offer?.Files is null || offer.Files.Any(file => file?.Path is null)
            ? Results.BadRequest()
            : Json(
                offer.Batch is { } batch ? uploads.OfferToBatch(batch, offer.Files) : uploads.Offer(offer.Folder, offer.Files),
                UploadJson.Default.OfferReply));
        uploads.MapPost("/batch", (UploadBatches batches) => Json(new UploadBatch(batches.Begin()), UploadJson.Default.UploadBatch));
        uploads.MapPut("/{id:long}", async (long id, long at, HttpContext context, Uploads uploads) =>
            await uploads.ReceiveAsync(id, at, context.Request.Body, context.RequestAborted) is { } arrival
                ? Json(arrival, UploadJson.Default.Arrival)
                : Results.NotFound());
    }

    private static IResult Json<T>(T value, System.Text.Json.Serialization.Metadata.JsonTypeInfo<T> form) => Results.Json(value, form);
}
