using System.Text.Json.Serialization;
using Microsoft.AspNetCore.Antiforgery;
using Wergamon.App.Intake;
using Wergamon.App.Library;

namespace Wergamon.Web;

/// <summary>What a page has to know before it can hand files over.</summary>
/// <param name="Token">Goes with every change, against requests that other sites make.</param>
internal sealed record HandingOverStart(string Token, IReadOnlyList<HandingOverFolder> Folders);

internal sealed record HandingOverFolder(long Id, string Path);

internal sealed record HandingOverOffer(long Folder, IReadOnlyList<OfferedFile> Files);

[JsonSourceGenerationOptions(PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase, UseStringEnumConverter = true)]
[JsonSerializable(typeof(HandingOverStart))]
[JsonSerializable(typeof(HandingOverOffer))]
[JsonSerializable(typeof(OfferReply))]
[JsonSerializable(typeof(Arrival))]
internal sealed partial class HandingOverJson : JsonSerializerContext;

/// <summary>Files over HTTP into a music folder: first an offer of names and lengths, then the bytes in pieces, each with its place.</summary>
internal static class HandingOver
{
    public static void MapHandingOver(this WebApplication app)
    {
        app.MapGet("/uploads", (HttpContext context, IAntiforgery antiforgery, MusicFolders folders) => Json(
            new HandingOverStart(
                antiforgery.GetAndStoreTokens(context).RequestToken!,
                [.. folders.List().Where(folder => folder is { IsPaused: false, IsThere: true }).Select(folder => new HandingOverFolder(folder.Id, folder.Path))]),
            HandingOverJson.Default.HandingOverStart));
        app.MapPost("/uploads", async (HttpContext context, IAntiforgery antiforgery, Uploads uploads) =>
        {
            if (!await antiforgery.IsRequestValidAsync(context))
                return Results.BadRequest();
            var offer = await context.Request.ReadFromJsonAsync(HandingOverJson.Default.HandingOverOffer, context.RequestAborted);
            return offer?.Files is null ? Results.BadRequest() : Json(uploads.Offer(offer.Folder, offer.Files), HandingOverJson.Default.OfferReply);
        });
        app.MapPut("/uploads/{id:long}", async (long id, long at, HttpContext context, IAntiforgery antiforgery, Uploads uploads) =>
        {
            if (!await antiforgery.IsRequestValidAsync(context))
                return Results.BadRequest();
            return await uploads.ReceiveAsync(id, at, context.Request.Body, context.RequestAborted) is { } arrival
                ? Json(arrival, HandingOverJson.Default.Arrival)
                : Results.NotFound();
        });
    }

    private static IResult Json<T>(T value, System.Text.Json.Serialization.Metadata.JsonTypeInfo<T> form) => Results.Json(value, form);
}
