using Wergamon.Codecs;
using Wergamon.Core.Analysis;
using Wergamon.Core.Jobs;

namespace Wergamon.Worker;

/// <summary>Aligns two files and subtracts one from the other.</summary>
internal static class Comparison
{
    public static WorkerReply Run(CompareJob job, JobReport report)
    {
        var difference = AudioComparison.Compare(
            () => AudioFiles.Open(job.FirstPath), () => AudioFiles.Open(job.SecondPath), done => report.Tell(done, 0, proving: false));
        return difference is null
            ? new FailureReply("They have different numbers of channels, or nothing but silence, and cannot be lined up.")
            : new CompareReply(difference);
    }
}
