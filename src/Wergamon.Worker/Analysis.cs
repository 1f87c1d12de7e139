using Wergamon.Codecs;
using Wergamon.Core.Analysis;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Jobs;

namespace Wergamon.Worker;

/// <summary>Analyses a file's audio, and verifies the checksum in the file if it has one.</summary>
internal static class Analysis
{
    public static AudioAnalysis Run(AnalysisJob job, JobReport report)
    {
        using var reader = AudioFiles.Open(job.SourcePath);
        long total = reader.FrameCount ?? 0;
        var analysis = AudioAnalyser.Analyse(reader, done => report.Tell(done, total, proving: false));
        return StatedSum(job.SourcePath) is { } stated && stated != analysis.Digest
            ? analysis with { Damage = [.. analysis.Damage, "The samples do not match the MD5 in the file."] }
            : analysis;
    }

    private static string? StatedSum(string path)
    {
        using var stream = PlainFile.OpenRead(path);
        return FlacTags.FindStart(stream) is { } start ? FlacTags.Read(stream, start).StreamInfo?.SampleMd5 : null;
    }
}
