using Wergamon.Codecs;
using Wergamon.Core.Jobs;
using Wergamon.Core.Metering;
using Wergamon.Core.Tags.VorbisComment;

namespace Wergamon.Worker;

/// <summary>Goes through a file's sound, and holds it against the sum that the file itself carries, where it does.</summary>
internal static class Surveying
{
    public static SoundSurvey Run(SurveyJob job, Action<WorkerProgress> report)
    {
        using var reader = SoundFiles.Open(job.SourcePath);
        long total = reader.FrameCount ?? 0;
        var survey = SoundSurvey.Of(reader, done => report(new WorkerProgress(done, total, Proving: false)));
        return StatedSum(job.SourcePath) is { } stated && stated != survey.Md5
            ? survey with { Damage = [.. survey.Damage, "The sound does not give the sum that the file states."] }
            : survey;
    }

    private static string? StatedSum(string path)
    {
        using var stream = File.OpenRead(path);
        return FlacTags.FindStart(stream) is { } start ? FlacTags.Read(stream, start).StreamInfo?.SampleMd5 : null;
    }
}
