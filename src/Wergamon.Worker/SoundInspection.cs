using Wergamon.Codecs;
using Wergamon.Core.Analysis.Findings;
using Wergamon.Core.Jobs;

namespace Wergamon.Worker;

/// <summary>Looks whether a file is what it says.</summary>
internal static class SoundInspection
{
    public static InspectReply Run(InspectJob job, JobReport report)
    {
        using var reader = AudioFiles.Open(job.SourcePath);
        long total = reader.FrameCount ?? 0;
        return new InspectReply(SoundInspector.Inspect(reader, job.IsLossless, done => report.Tell(done, total, proving: false)));
    }
}
