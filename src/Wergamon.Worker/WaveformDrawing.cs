using Wergamon.Codecs;
using Wergamon.Core.Analysis;
using Wergamon.Core.Jobs;

namespace Wergamon.Worker;

/// <summary>Writes the fine waveform of a file.</summary>
internal static class WaveformDrawing
{
    public static WaveformReply Run(WaveformJob job, JobReport report)
    {
        using var reader = AudioFiles.Open(job.SourcePath);
        using var output = PlainFile.Open(job.OutputPath, FileMode.CreateNew, FileAccess.Write);
        long total = reader.FrameCount ?? 0;
        return new WaveformReply(FineWaveform.Write(reader, output, done => report.Tell(done, total, proving: false)));
    }
}
