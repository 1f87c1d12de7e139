using Wergamon.Codecs;
using Wergamon.Core.Jobs;
using Wergamon.Core.Metering;

namespace Wergamon.Worker;

/// <summary>Lays two files over each other.</summary>
internal static class Comparing
{
    public static WorkerReply Run(CompareJob job, Action<WorkerProgress> report)
    {
        var difference = SoundComparison.Compare(
            () => SoundFiles.Open(job.FirstPath), () => SoundFiles.Open(job.SecondPath), done => report(new WorkerProgress(done, 0, Proving: false)));
        return difference is null
            ? new WorkerReply(Failure: "They have different numbers of channels, or nothing but silence, and cannot be laid over each other.")
            : new WorkerReply(Difference: difference);
    }
}
