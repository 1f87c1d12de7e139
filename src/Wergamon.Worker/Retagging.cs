using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Jobs;
using Wergamon.Core.Tags;

namespace Wergamon.Worker;

/// <summary>Gives a copy the present tags of its source under a temporary name. After a failure the server removes the file.</summary>
internal static class Retagging
{
    public static WorkerReply Run(RetagJob job)
    {
        var tags = SourceTags.For(job.Conversion);
        using var copy = PlainFile.OpenRead(job.CopyPath);
        if (FileFormats.Of(copy) is not TaggedFormat format || format != job.Conversion.Encoder.Format)
            throw new UnreadableAudioException($"{job.CopyPath} is no longer the {job.Conversion.Encoder.Format.Name} file that was made.");
        var sound = format.HashSound(copy);
        var edit = format.EditTags(copy, tags, job.Conversion.TagOptions ?? TagWriteOptions.Usual);
        using var made = PlainFile.Open(job.Conversion.OutputPath, FileMode.CreateNew, FileAccess.ReadWrite, 1 << 16);
        edit.WriteTo(copy, made);
        made.Flush(flushToDisk: true);
        return format.Verify(made, sound, tags) is { } fault ? new FailureReply(fault) : new RetagReply();
    }
}
