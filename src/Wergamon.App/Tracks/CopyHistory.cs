using System.Data;
using Dapper;

namespace Wergamon.App.Tracks;

/// <summary>An event in the history of a copy.</summary>
public sealed record CopyEvent
{
    public long CopyId { get; init; }

    public long HappenedAt { get; init; }

    public string Words { get; init; } = "";
}

/// <summary>Keeps the history of copies.</summary>
public sealed class CopyHistory(TimeProvider time)
{
    internal void Note(IDbConnection connection, long copyId, string words) => Note(connection, [copyId], words);

    internal void Note(IDbConnection connection, IEnumerable<long> copyIds, string words)
    {
        long now = time.GetUtcNow().ToUnixTimeMilliseconds();
        connection.Execute(
            "INSERT INTO copy_event (copy_id, happened_at, words) VALUES (@copyId, @now, @words)",
            copyIds.Select(copyId => new { copyId, now, words }));
    }
}
