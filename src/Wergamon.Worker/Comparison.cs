using Wergamon.Codecs;
using Wergamon.Core.Analysis.Comparing;
using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Resampling;
using Wergamon.Core.Audio.Steps;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Jobs;

namespace Wergamon.Worker;

/// <summary>Decodes two files, aligns them and subtracts one from the other.</summary>
internal sealed class Comparison(CompareJob job, JobReport report)
{
    /// <summary>Shares of the work, in thousandths: decoding each, then the rest.</summary>
    private const int Whole = 1000, Decoding = 350;

    /// <summary>The system takes a file in large pieces at less cost.</summary>
    private const int FramesPerWrite = 32_768;

    private const string MovedSuffix = ".moved";

    public WorkerReply Run()
    {
        PlainFolder.Create(job.OutputFolder);
        var (firstPath, secondPath) = (PathOf(ComparedFiles.First), PathOf(ComparedFiles.Second));
        PcmFormat firstFormat, secondFormat;
        CommonFormat common;
        long firstFrames, secondFrames;
        using (IPcmReader first = AudioFiles.Open(job.FirstPath), second = AudioFiles.Open(job.SecondPath))
        {
            (firstFormat, secondFormat) = (first.Format, second.Format);
            common = CommonFormat.Of(firstFormat, secondFormat);
            firstFrames = AtRate(firstFormat.Rate, Write(common.Apply(first), firstPath, first.FrameCount, 0));
            secondFrames = AtRate(secondFormat.Rate, Write(common.Apply(second), secondPath, second.FrameCount, Decoding));
        }

        using var one = Open(firstPath);
        var other = Open(secondPath);
        try
        {
            var place = Alignment.Find(one, other);
            bool isSwapped = place is { IsFound: true } found && SwappedSides.Are(one, other, found);
            if (isSwapped)
            {
                other = Swapped(other, secondPath);
                place = Alignment.Find(one, other);
            }

            if (place is { IsWhole: false })
                other = Moved(other, place, secondPath);

            using var waveform = PlainFile.Open(PathOf(ComparedFiles.Waveform), FileMode.Create, FileAccess.ReadWrite);
            var result = NullTest.Run(
                new NullTestInput(one, firstFormat, firstFrames) { Loudness = job.FirstLoudness },
                new NullTestInput(other, secondFormat, secondFrames) { Loudness = job.SecondLoudness }, place, job.MatchesLevel, waveform,
                share => report.Tell(2 * Decoding + (long)(share * (Whole - 2 * Decoding)), Whole, proving: false));
            return new CompareReply(result with { IsSwapped = isSwapped });
        }
        finally
        {
            other.Dispose();
        }

        long AtRate(SampleRate rate, long frames) => (long)Math.Round((double)frames * rate.Hertz / common.Rate.Hertz);
    }

    private string PathOf(string name) => Path.Combine(job.OutputFolder, name);

    private static WavSamples Open(string path) => new(PlainFile.Open(path, FileMode.Open, FileAccess.Read, bufferSize: 0));

    /// <summary>Writes a sound and gives its frames.</summary>
    private long Write(IPcmReader reader, string path, long? total, int done)
    {
        using var writer = new WavWriter(PlainFile.Open(path, FileMode.Create, FileAccess.ReadWrite, bufferSize: 0), reader.Format);
        var block = new SampleBuffer(reader.Format, FramesPerWrite);
        long frames = 0;
        while (reader.Read(block) > 0)
        {
            writer.Write(block);
            frames += block.FrameCount;
            report.Tell(done + (total is > 0 and { } all ? Math.Min(Decoding, Decoding * frames / all) : 0), Whole, proving: false);
        }

        writer.Complete();
        return frames;
    }

    /// <summary>The second sound again, with its sides exchanged.</summary>
    private WavSamples Swapped(WavSamples sound, string path)
    {
        sound.Dispose();
        using (var reader = new ChannelMapReader(new WavReader(PlainFile.OpenRead(path)), [1, 0], ChannelRolesFacts.Usual(2)))
            Write(reader, path + MovedSuffix, null, 2 * Decoding);
        return Replaced(path);
    }

    /// <summary>The second sound again, from a frame of the first on and at its speed.</summary>
    private WavSamples Moved(WavSamples sound, AlignedPair place, string path)
    {
        Write(new InterpolatingReader(sound, place.StartOfSecond, place.Speed), path + MovedSuffix, null, 2 * Decoding);
        sound.Dispose();
        return Replaced(path);
    }

    private static WavSamples Replaced(string path)
    {
        PlainFile.Move(path + MovedSuffix, path, overwrite: true);
        return Open(path);
    }
}
