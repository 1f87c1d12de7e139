using Wergamon.Codecs;
using Wergamon.Core.Jobs;
using Wergamon.Core.Music;

namespace Wergamon.Worker;

/// <summary>Analyses the music of a file.</summary>
internal static class MusicMeasurement
{
    public static MusicReply Run(MusicJob job, JobReport report)
    {
        using var reader = AudioFiles.Open(job.SourcePath);
        long total = reader.FrameCount ?? 0;
        return new MusicReply(MusicAnalyser.Analyse(reader, done => report.Tell(done, total, proving: false)));
    }
}
