using Dapper;
using Wergamon.App.Copies;
using Wergamon.App.Files;
using Wergamon.App.Storage;
using Wergamon.Core.Jobs;
using Wergamon.Core.Music;

namespace Wergamon.App.Sets;

/// <summary>The music of a copy, or why it could not be analysed.</summary>
internal sealed record MusicReading(MusicAnalysis? Analysis, string? Failure);

/// <summary>Analyses the music of a copy and stores what was found.</summary>
public sealed class MusicReader(Database database, Throughput pace, TimeProvider time)
{
    /// <summary>This work among those whose pace is known.</summary>
    internal static readonly ConvertWork Work = new("music");

    /// <param name="ask">Sends the job to a worker.</param>
    /// <returns>Null for a file that changed in the meantime; nothing is stored.</returns>
    /// <exception cref="OperationCanceledException">The job was cancelled.</exception>
    internal async Task<MusicReading?> ReadAsync(long copyId, string path, Func<MusicJob, Task<WorkerReply>> ask)
    {
        var stamp = FileStamp.Of(path);
        long began = time.GetTimestamp();
        var reply = await ask(new MusicJob(path)).ConfigureAwait(false);
        var reading = new MusicReading((reply as MusicReply)?.Analysis, reply.Failure);
        if (stamp != FileStamp.Of(path))
            return null;
        var length = database.Change(connection =>
        {
            MusicRows.Save(connection, copyId, reading.Analysis, reading.Failure);
            return connection.ExecuteScalar<long>(
                "SELECT l.length_ms FROM track_line l JOIN copy c ON c.track_id = l.track_id WHERE c.id = @copyId", new { copyId });
        });
        if (reading.Analysis is not null && length > 0)
            pace.Note(Work, TimeSpan.FromMilliseconds(length), time.GetElapsedTime(began));
        return reading;
    }
}
