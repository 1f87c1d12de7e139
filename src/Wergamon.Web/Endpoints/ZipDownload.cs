using System.IO.Compression;
using Microsoft.AspNetCore.Http.Features;
using Wergamon.Core.Naming;

namespace Wergamon.Web.Endpoints;

/// <summary>A file of a zip.</summary>
/// <param name="Name">In the zip, with '/' between its parts; a number is added if it is taken.</param>
internal readonly record struct ZipFile(string Name, Func<Stream> Open);

/// <summary>Sends files as one zip while it is made, in their order, stored without compression: music does not shrink.</summary>
internal static class ZipDownload
{
    /// <param name="title">The name of the zip without extension.</param>
    public static async Task SendAsync(HttpContext context, string title, IEnumerable<ZipFile> files)
    {
        // The archive writes the trailer of each entry synchronously, even when disposed asynchronously.
        context.Features.GetRequiredFeature<IHttpBodyControlFeature>().AllowSynchronousIO = true;
        context.Response.ContentType = "application/zip";
        context.Response.Headers.ContentDisposition = "attachment; "
            + $"filename*=UTF-8''{Uri.EscapeDataString(SafeFileName.From(title, ".zip"))}";
        await using var archive = await ZipArchive.CreateAsync(
            context.Response.Body, ZipArchiveMode.Create, leaveOpen: true, entryNameEncoding: null, context.RequestAborted);
        var taken = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        foreach (var file in files)
        {
            await using var packed = await archive.CreateEntry(FreeName(file.Name, taken), CompressionLevel.NoCompression)
                .OpenAsync(context.RequestAborted);
            await using var stream = file.Open();
            await stream.CopyToAsync(packed, context.RequestAborted);
        }
    }

    private static string FreeName(string name, HashSet<string> taken)
    {
        // Names of files may hold anything; unpacked, they are to stay below the folder and be one line each.
        name = string.Join(
            '/',
            name.Split('/')
                .Select(
                    part =>
                        SafeFileName.From(
                            Path.GetFileNameWithoutExtension(part),
                            SafeFileName.From(Path.GetExtension(part).TrimStart('.'), instead: "") is { Length: > 0 } extension
                                ? "." + extension
                                : "")));
        var free = name;
        for (int number = 2; !taken.Add(free); number++)
            free = TrackPath.Numbered(name, number);
        return free;
    }
}
