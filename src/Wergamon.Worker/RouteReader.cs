using Wergamon.Codecs;
using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Resampling;
using Wergamon.Core.Audio.Steps;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;

namespace Wergamon.Worker;

/// <summary>Opens a source and applies the steps of its route.</summary>
internal static class RouteReader
{
    /// <param name="job">What to read and which steps to take.</param>
    /// <param name="fittingGain">Linear gain that keeps the sound from clipping before bits are taken away; 1 for none.</param>
    /// <param name="onSource">Called with the frames read from the source so far.</param>
    public static IPcmReader Open(ConvertJob job, double fittingGain, Action<long> onSource)
    {
        var source = OpenSource(job);
        IPcmReader reader = new CountingReader(job.Part is { } part ? new RangeReader(source, part) : source, onSource);
        if (!SameShape(reader.Format, job.SourceFormat))
        {
            var reply = new DifferentSourceReply(job.SourceFormat, reader.Format, reader.FrameCount);
            reader.Dispose();
            throw new DifferentSourceException(reply);
        }

        bool isFitted = fittingGain == 1;
        foreach (var step in job.Steps)
        {
            if (step.Kind == StepKind.Requantise && !isFitted)
                (reader, isFitted) = (new GainReader(reader, fittingGain), true);
            reader = Apply(step, reader, job);
        }

        return isFitted ? reader : new GainReader(reader, fittingGain);
    }

    private static IPcmReader Apply(JobStep step, IPcmReader reader, ConvertJob job) => step.Kind switch
    {
        StepKind.Widen => new WideningReader(reader, step.Output.Bits),
        StepKind.Narrow => new NarrowingReader(reader, step.Output.Bits),
        StepKind.Arrange => new ChannelMapReader(reader, step.Channels ?? [], step.Output.Roles),
        StepKind.Downmix => new DownmixReader(reader, job.Downmix, step.Output.Channels),
        StepKind.Resample => new ResamplingReader(reader, step.Output.Rate),
        StepKind.Fade when step.Fade is { } times => new FadeReader(reader, times, reader.FrameCount ?? long.MaxValue),
        StepKind.Gain => new GainReader(reader, Decibels.ToGain(step.Decibels ?? 0)),
        StepKind.Requantise => new RequantisingReader(reader, step.Output.Bits, step.Dither),
        _ => reader,
    };

    private static IPcmReader OpenSource(ConvertJob job)
    {
        if (job.Roles.Count > 0)
            return new ChannelJoinReader(
                [AudioFiles.Open(job.SourcePath), .. job.ParallelSources.Select(path => AudioFiles.Open(path))], job.Roles);
        return job.AppendedSources.Count == 0
            ? AudioFiles.Open(job.SourcePath, job.Sound)
            : new JoinedReader([AudioFiles.Open(job.SourcePath), .. job.AppendedSources.Select(path => AudioFiles.Open(path))]);
    }

    /// <summary>Channel roles are left out: a header reader and a decoder may name the same surrounds differently.</summary>
    private static bool SameShape(PcmFormat one, PcmFormat other) => one with { Roles = other.Roles } == other;

    /// <summary>Counts samples; passes them through unchanged.</summary>
    private sealed class CountingReader(IPcmReader source, Action<long> onSource) : IPcmReader
    {
        private long _frames;

        public PcmFormat Format => source.Format;

        public long? FrameCount => source.FrameCount;

        public IReadOnlyList<string> Damage => source.Damage;

        public int Read(SampleBuffer block)
        {
            int frames = source.Read(block);
            onSource(_frames += frames);
            return frames;
        }

        public void Dispose() => source.Dispose();
    }
}
