using System.Text.RegularExpressions;
using Wergamon.App.Library.Listening;
using Wergamon.App.Tracks;

namespace Wergamon.Web.Endpoints;

internal static partial class Artwork
{
    /// <summary>Pictures are addressed by their hash, so that a browser may cache them for good.</summary>
    public static void MapArtwork(this WebApplication app) => app.MapGet(
        "/artwork/{hash}", async (string hash, int? size, LibraryQueries library, Thumbnails thumbnails, HttpContext context) =>
    {
        if (!Hash().IsMatch(hash) || (size is { } wanted && !Thumbnails.Sizes.Contains(wanted)))
            return Results.NotFound();
        if ((size is { } pixels ? await thumbnails.GetAsync(hash, pixels) : library.Artwork(hash)) is not { } artwork)
            return Results.NotFound();
        context.Response.Headers.CacheControl = "private, max-age=31536000, immutable";
        // Only pictures are served under the type they claim; anything else is served as plain bytes.
        return Results.Bytes(
            artwork.Data,
            artwork.MimeType is "image/jpeg" or "image/png" or "image/gif" or "image/webp" ? artwork.MimeType : "application/octet-stream");
    });

    [GeneratedRegex("^[0-9a-f]{64}$")]
    private static partial Regex Hash();
}
