using Wergamon.App.Files;
using Wergamon.App.Storage;
using Wergamon.Core.Jobs;
using Wergamon.Core.Music;

namespace Wergamon.App.Sets;

/// <summary>The music of a copy, or why it could not be analysed.</summary>
internal sealed record MusicReading(MusicAnalysis? Analysis, string? Failure);

/// <summary>Analyses the music of a copy and stores what was found.</summary>
public sealed class MusicReader(Database database)
{
    /// <param name="ask">Sends the job to a worker.</param>
    /// <returns>Null for a file that changed in the meantime; nothing is stored.</returns>
    /// <exception cref="OperationCanceledException">The job was cancelled.</exception>
    internal async Task<MusicReading?> ReadAsync(long copyId, string path, Func<MusicJob, Task<WorkerReply>> ask)
    {
        var stamp = FileStamp.Of(path);
        var reply = await ask(new MusicJob(path)).ConfigureAwait(false);
        var reading = new MusicReading((reply as MusicReply)?.Analysis, reply.Failure);
        if (stamp != FileStamp.Of(path))
            return null;
        database.Change(connection => MusicRows.Save(connection, copyId, reading.Analysis, reading.Failure));
        return reading;
    }
}
