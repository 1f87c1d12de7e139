using Wergamon.Codecs;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Jobs;

namespace Wergamon.Worker;

/// <summary>Decodes a file to WAV for a reader that follows while it grows: the header comes first and is not touched again.</summary>
internal static class Decoding
{
    private const int BlocksPerReport = 64;

    /// <returns>Samples of one channel that were written.</returns>
    public static long Run(DecodeJob job, JobReport report)
    {
        using var reader = AudioFiles.Open(job.SourcePath);
        using var output = PlainFile.Open(job.OutputPath, FileMode.CreateNew, FileAccess.Write, bufferSize: 0);
        WavWriter.WriteHead(output, reader.Format, job.FrameCount);
        var block = new SampleBuffer(reader.Format);
        var bytes = new byte[block.Capacity * reader.Format.BytesPerFrame];
        long frames = 0;
        for (int blocks = 0; frames < job.FrameCount && reader.Read(block) > 0; blocks++)
        {
            block.FrameCount = (int)Math.Min(block.FrameCount, job.FrameCount - frames);
            output.Write(bytes, 0, PcmPacking.Wav.Pack(block, bytes));
            frames += block.FrameCount;
            if (blocks % BlocksPerReport == 0)
                report.Tell(frames, job.FrameCount, proving: false);
        }

        return frames;
    }
}
