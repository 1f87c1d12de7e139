using Wergamon.App.Copies;
using Wergamon.App.Files;
using Wergamon.App.Library.Listening;
using Wergamon.App.Runs;
using Wergamon.App.Tracks;
using Wergamon.Core.Audio;

namespace Wergamon.Web.Endpoints;

/// <summary>Audio over HTTP: to play in the page, to download, or many as one zip. Files are requested by number, never by path.</summary>
internal static class AudioEndpoints
{
    private const int MaxColumns = 8192;

    private const double MaxSeconds = 1e7;

    public static void MapAudio(this WebApplication app)
    {
        app.MapGet("/copies/{id:long}/play", Play);
        app.MapGet(
            "/copies/{id:long}/waveform", async (long id, LibraryQueries library, BackgroundAnalysis analysis, HttpContext context) =>
        {
            context.Response.Headers.CacheControl = "no-cache";
            return library.Copy(id) is { } copy && await analysis.WaveformAsync(copy, context.RequestAborted) is { } waveform
                ? Results.Bytes(waveform, "application/octet-stream")
                : Results.NotFound();
        });
        app.MapGet("/copies/{id:long}/stretch", Stretch);
        app.MapGet(
            "/copies/{id:long}/file", (long id, LibraryQueries library, AllowedPaths allowed) => Find(library, allowed, id) is { } copy
            ? Results.File(copy.Path, "application/octet-stream", Path.GetFileName(copy.Path), enableRangeProcessing: true)
            : Results.NotFound());
        app.MapGet("/runs/{id:long}/zip", Zip);
    }

    private static CopyRow? Find(LibraryQueries library, AllowedPaths allowed, long id) =>
        library.Copy(id) is { } copy && allowed.MayRead(copy.Path) ? copy : null;

    /// <summary>A stretch of the waveform in as many columns as asked for.</summary>
    /// <param name="from">Seconds, as is <paramref name="to"/>; everything outside of the copy is silence.</param>
    private static async Task<IResult> Stretch(
        long id, double from, double to, int columns, LibraryQueries library, AllowedPaths allowed, FineWaveforms waveforms,
        HttpContext context)
    {
        if (columns is < 1 or > MaxColumns || !double.IsFinite(from) || !double.IsFinite(to) || to <= from
            || Math.Max(Math.Abs(from), Math.Abs(to)) > MaxSeconds)
            return Results.BadRequest();
        context.Response.Headers.CacheControl = "no-cache";
        if (Find(library, allowed, id) is not { IsMissing: false } copy)
            return Results.NotFound();
        try
        {
            return Results.Bytes(await waveforms.ReadAsync(copy, from, to, columns, context.RequestAborted), "application/octet-stream");
        }
        catch (UnreadableAudioException failure)
        {
            return Unreadable(failure);
        }
    }

    /// <summary>Formats that browsers play are sent unchanged; anything else is decoded to WAV.</summary>
    private static async Task<IResult> Play(long id, LibraryQueries library, AllowedPaths allowed, Playback playback, HttpContext context)
    {
        if (Find(library, allowed, id) is not { } copy)
            return Results.NotFound();
        if (Playback.BrowserType(copy) is { } type)
            return Results.File(copy.Path, type, enableRangeProcessing: true);
        try
        {
            return Results.Stream(await playback.OpenAsync(copy, context.RequestAborted), "audio/wav", enableRangeProcessing: true);
        }
        catch (UnreadableAudioException failure)
        {
            return Unreadable(failure);
        }
    }

    private static IResult Unreadable(UnreadableAudioException failure) =>
        Results.Text(failure.Message, statusCode: StatusCodes.Status415UnsupportedMediaType);

    /// <summary>Streams the finished files of a run in track order, stored without compression.</summary>
    private static async Task<IResult> Zip(long id, RunStore runs, AllowedPaths allowed, HttpContext context)
    {
        if (runs.Get(id) is not { } run)
            return Results.NotFound();
        var files = runs.Items(id).Select(CopyResult.Of).OfType<CopyResult>().Select(result => result.Path).Where(allowed.MayRead).ToList();
        if (files.Count == 0)
            return Results.NotFound();
        await ZipDownload.SendAsync(
            context, $"{run.Title}, {run.Purpose}",
            files.Select(path => new ZipFile(NameIn(run.OutputFolder, path), () => PlainFile.OpenRead(path))));
        return Results.Empty;
    }

    /// <summary>Relative to the folder of the run, if the file is still there.</summary>
    private static string NameIn(string? folder, string path) =>
        folder is not null && path.StartsWith(folder.TrimEnd('/') + "/", StringComparison.Ordinal)
            ? Path.GetRelativePath(folder, path)
            : Path.GetFileName(path);
}
