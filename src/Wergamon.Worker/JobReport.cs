using System.Diagnostics;
using Wergamon.Core.Jobs;

namespace Wergamon.Worker;

/// <summary>Reports progress at most every quarter of a second, and throws once the job was cancelled.</summary>
internal sealed class JobReport(Action<WorkerReply> reply, CancellationToken cancellation)
{
    private static readonly TimeSpan Interval = TimeSpan.FromMilliseconds(250);

    private readonly Stopwatch _sinceReport = Stopwatch.StartNew();

    /// <exception cref="OperationCanceledException">The job was cancelled.</exception>
    public void Tell(long done, long total, bool proving)
    {
        cancellation.ThrowIfCancellationRequested();
        if (_sinceReport.Elapsed < Interval)
            return;
        _sinceReport.Restart();
        reply(new ProgressReply(new WorkerProgress(done, total, proving)));
    }
}
