using System.Collections.Concurrent;
using Dapper;
using Microsoft.Extensions.Logging;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.App.Workers;
using Wergamon.Core.Jobs;

namespace Wergamon.App.Library.Listening;

/// <summary>Pictures in the size that lists show. Workers make them, since a picture can be anything; each is made once and kept.</summary>
public sealed class Thumbnails
{
    private static readonly TimeSpan KeepingWait = TimeSpan.FromSeconds(1);

    private readonly ConcurrentDictionary<(string Hash, int Size), Task<ArtworkRow?>> _making = new();
    private readonly Database _database;
    private readonly WorkerPool _workers;
    private readonly string _folder;
    private readonly ILogger<Thumbnails> _logger;

    public Thumbnails(Database database, WorkerPool workers, AppOptions options, ILogger<Thumbnails> logger)
    {
        (_database, _workers, _folder, _logger) = (database, workers, Path.Combine(options.DataFolder, "thumbnails"), logger);
        if (PlainFolder.Exists(_folder))
            PlainFolder.RemoveTree(_folder);
    }

    /// <summary>The available sizes, in pixels of the longer side: for rows and for headings, at twice the size on the page.</summary>
    public static IReadOnlyList<int> Sizes { get; } = [128, 256];

    /// <summary>The picture in a size; unchanged when it is no larger or cannot be scaled. Null when there is none.</summary>
    public async Task<ArtworkRow?> GetAsync(string hash, int size)
    {
        if (Find(hash, size) is { } made)
            return made;
        var making = _making.GetOrAdd((hash, size), key => MakeAsync(key.Hash, key.Size));
        try
        {
            return await making.ConfigureAwait(false);
        }
        finally
        {
            _making.TryRemove((hash, size), out _);
        }
    }

    private ArtworkRow? Find(string hash, int size)
    {
        using var connection = _database.Open();
        return connection.QueryFirstOrDefault<ArtworkRow>(
            """
            SELECT mime_type, data FROM thumbnail WHERE hash = @hash AND size = @size AND length(data) > 0
            UNION ALL SELECT a.mime_type, a.data FROM artwork a LEFT JOIN thumbnail t ON t.hash = a.hash AND t.size = @size
                WHERE a.hash = @hash AND (max(a.width, a.height) <= @size OR length(t.data) = 0) LIMIT 1
            """,
            new { hash, size });
    }

    private async Task<ArtworkRow?> MakeAsync(string hash, int size)
    {
        ArtworkRow? artwork;
        using (var connection = _database.Open())
            artwork = connection.QueryFirstOrDefault<ArtworkRow>("SELECT mime_type, data FROM artwork WHERE hash = @hash", new { hash });
        if (artwork is null)
            return null;
        PrivateFiles.CreateFolder(_folder);
        var path = Path.Combine(_folder, $"{hash}-{size}");
        WorkerReply reply;
        try
        {
            PlainFile.Write(path, artwork.Data);
            reply = await _workers.RunUntilRepliedAsync(
                new ThumbnailJob(path, size), path, WorkerPriority.Interactive, CancellationToken.None).ConfigureAwait(false);
        }
        catch (Exception failure) when (failure is WorkerLostException or IOException)
        {
            reply = new FailureReply(failure.Message);
        }
        finally
        {
            PlainFile.Delete(path);
        }

        // An empty one means that the picture has to be shown unchanged.
        var thumbnail = reply is ThumbnailReply made ? new ArtworkRow { MimeType = made.MimeType, Data = made.Data } : new ArtworkRow();
        _database.TryChange(KeepingWait, connection => connection.Execute(
            "INSERT INTO thumbnail (hash, size, mime_type, data) SELECT hash, @size, @MimeType, @Data FROM artwork WHERE hash = @hash "
                + "ON CONFLICT DO NOTHING",
            new { hash, size, thumbnail.MimeType, thumbnail.Data }));
        if (thumbnail.Data.Length > 0)
            return thumbnail;
        _logger.LogInformation("No thumbnail of picture {Hash}: {Failure}", hash, reply.Failure);
        return artwork;
    }
}
