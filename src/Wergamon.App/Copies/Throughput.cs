using System.Data;
using Dapper;
using Wergamon.App.Storage;
using Wergamon.Core.Planning;

namespace Wergamon.App.Copies;

/// <summary>How fast this machine works, learned from its runs.</summary>
public sealed class Throughput(Database database)
{
    /// <summary>Earlier work counts less than recent work: each new piece reduces the weight of the old by this share.</summary>
    private const double Fading = 0.98;

    /// <summary>Notes a piece of work.</summary>
    /// <param name="playing">Playing time of what was converted.</param>
    /// <param name="worked">How long one worker took.</param>
    public void Note(ConvertWork work, TimeSpan playing, TimeSpan worked) => database.Change(connection => connection.Execute(
        """
        INSERT INTO pace (work, playing_ms, worked_ms) VALUES (@work, @playing, @worked)
        ON CONFLICT (work) DO UPDATE SET playing_ms = playing_ms * @Fading + excluded.playing_ms,
            worked_ms = worked_ms * @Fading + excluded.worked_ms
        """,
        new { work = work.Key, playing = playing.TotalMilliseconds, worked = worked.TotalMilliseconds, Fading }));

    /// <summary>Time for a second of playing time, for each kind of work that was done before.</summary>
    internal static Dictionary<string, double> Known(IDbConnection connection) =>
        connection.Query<(string Work, double Ratio)>("SELECT work, worked_ms / playing_ms FROM pace WHERE playing_ms > 0")
            .ToDictionary(row => row.Work, row => row.Ratio);
}

/// <summary>A kind of work that takes about as long each time.</summary>
/// <param name="Key">As stored in the database.</param>
public readonly record struct ConvertWork(string Key)
{
    public static ConvertWork Of(Target target, IEnumerable<StepKind> steps)
    {
        bool isResampled = false, isCarried = false;
        foreach (var step in steps)
            (isResampled, isCarried) = (isResampled || step == StepKind.Resample, isCarried || step == StepKind.Carry);
        return new ConvertWork(isCarried ? "carry" : target.Format.Key + (isResampled ? ", resampled" : ""));
    }
}
