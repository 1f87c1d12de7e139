using System.IO.Compression;
using Microsoft.AspNetCore.Http.Features;
using Wergamon.App.Library;
using Wergamon.App.Runs;
using Wergamon.Core.Audio;

namespace Wergamon.Web;

/// <summary>Sound over HTTP: to play in the page, to download, or many as one zip. Files are asked for by number, never by path.</summary>
internal static class Sound
{
    public static void MapSound(this WebApplication app)
    {
        app.MapGet("/copies/{id:long}/play", Play);
        app.MapGet("/copies/{id:long}/file", (long id, LibraryQueries library) => Find(library, id) is { } copy
            ? Results.File(copy.Path, "application/octet-stream", Path.GetFileName(copy.Path), enableRangeProcessing: true)
            : Results.NotFound());
        app.MapGet("/runs/{id:long}/zip", Zip);
    }

    private static CopyRow? Find(LibraryQueries library, long id) => library.Copy(id) is { } copy && File.Exists(copy.Path) ? copy : null;

    /// <summary>What browsers play is sent as it is; AIFF, which they do not, is sent as WAV with the same samples.</summary>
    private static async Task<IResult> Play(long id, LibraryQueries library, HttpContext context)
    {
        if (Find(library, id) is not { } copy)
            return Results.NotFound();
        if (copy.Kind != nameof(FileKind.Aiff))
            return Results.File(copy.Path, MimeType(copy.Path), enableRangeProcessing: true);
        return await SendAsWav(copy.Path, context);
    }

    private static async Task<IResult> SendAsWav(string path, HttpContext context)
    {
        using var reader = new AiffReader(File.OpenRead(path));
        context.Response.ContentType = "audio/wav";
        context.Response.ContentLength = WavWriter.FileLength(reader.Format, reader.FrameCount ?? 0, 0);
        using var memory = new MemoryStream();
        var writer = new WavWriter(memory, reader.Format, reader.FrameCount);
        var block = new SampleBuffer(reader.Format);
        int frames;
        do
        {
            frames = reader.Read(block);
            if (frames > 0)
                writer.Write(block);
            else
                writer.Complete();
            memory.Position = 0;
            await memory.CopyToAsync(context.Response.Body, context.RequestAborted);
            memory.SetLength(0);
        }
        while (frames > 0);
        return Results.Empty;
    }

    /// <summary>Streams the finished files of a run, in track order, without packing what cannot be packed.</summary>
    private static async Task<IResult> Zip(long id, RunStore runs, HttpContext context)
    {
        if (runs.Get(id) is not { } run)
            return Results.NotFound();
        var files = runs.Items(id).Where(item => item.State == ItemState.Done && File.Exists(item.FinalPath)).ToList();
        if (files.Count == 0)
            return Results.NotFound();
        // The archive writes the few bytes behind each entry synchronously, even when it is disposed of asynchronously.
        context.Features.GetRequiredFeature<IHttpBodyControlFeature>().AllowSynchronousIO = true;
        context.Response.ContentType = "application/zip";
        var name = Core.Names.SafeFileName.From($"{run.Title}, {run.TargetName}", ".zip");
        context.Response.Headers.ContentDisposition = $"attachment; filename*=UTF-8''{Uri.EscapeDataString(name)}";
        await using var archive = await ZipArchive.CreateAsync(context.Response.Body, ZipArchiveMode.Create, leaveOpen: true, entryNameEncoding: null, context.RequestAborted);
        foreach (var item in files)
        {
            var entry = archive.CreateEntry(Path.GetRelativePath(run.OutputFolder, item.FinalPath!), CompressionLevel.NoCompression);
            await using var packed = await entry.OpenAsync(context.RequestAborted);
            await using var file = File.OpenRead(item.FinalPath!);
            await file.CopyToAsync(packed, context.RequestAborted);
        }

        return Results.Empty;
    }

    private static string MimeType(string path) => Path.GetExtension(path).ToUpperInvariant() switch
    {
        ".FLAC" => "audio/flac",
        ".MP3" => "audio/mpeg",
        ".WAV" or ".WAVE" => "audio/wav",
        ".OGG" or ".OGA" or ".OPUS" => "audio/ogg",
        ".M4A" or ".M4B" or ".MP4" => "audio/mp4",
        ".AAC" => "audio/aac",
        _ => "application/octet-stream",
    };
}
