using Wergamon.Codecs;
using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Steps;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;

namespace Wergamon.Worker;

/// <summary>Makes one copy under a temporary name and reads it back. After a failure the server removes the file.</summary>
internal sealed class Conversion(ConvertJob asked, JobReport report)
{
    private ConvertJob _job = asked;
    private long _totalFrames;

    public ConvertReply Run()
    {
        if (CodecCheck.ComplaintOf(_job.Encoder.Format) is { } complaint)
            throw new CodecException(complaint);
        if (_job.Steps.Any(
            step => step.Kind == StepKind.Trim || step.Fade is { Out.Ticks: > 0 } && !(_job.Part is null && StatesExactLength())))
            _job = _job with { Part = MeasurePart() };
        double fittingGain = MayClip() ? MeasureFittingGain() : 1;
        var tags = SourceTags.For(_job);
        var proof = new ProofReading(_job, tags);
        if (_job.Steps.Any(step => step is { Kind: StepKind.Gain, Decibels: null }))
            _job = _job with
            {
                Steps = [.. _job.Steps.Select(step => step.Kind == StepKind.Gain ? step with { Decibels = MeasureGain() } : step)]
            };
        using var file = CreateOutput();
        // Decoding the file while it grows adds no time if a core is free, and costs CPU time if none is; in most formats the
        // header that says how to read them is written last.
        var beside = _job.HasSpareCore && _job.Encoder.Format.IsReadableWhileWritten
            ? Task.Factory.StartNew(
                () => proof.ReadSound(file.Follow()), CancellationToken.None, TaskCreationOptions.LongRunning, TaskScheduler.Default)
            : null;
        Encoded written;
        try
        {
            written = Encode(file, tags, fittingGain);
        }
        catch
        {
            file.End();
            Task.WhenAny(beside ?? Task.CompletedTask).Wait();
            throw;
        }

        var sound = beside?.GetAwaiter().GetResult() ?? proof.ReadSound(frames => Tell(frames, proving: true));
        file.EndFlushing();
        return new ConvertReply(proof.Compare(written, sound, fittingGain < 1 ? Decibels.FromGain(fittingGain) : null), sound.Analysis);
    }

    /// <summary>Creates the folder again if it has just been removed: renaming an album removes its old folder once it is empty.</summary>
    private GrowingFile CreateOutput()
    {
        const int MaxAttempts = 5;
        for (int attempt = 1; ; attempt++)
        {
            PlainFolder.Create(Path.GetDirectoryName(_job.OutputPath)!);
            try
            {
                return new GrowingFile(_job.OutputPath);
            }
            catch (DirectoryNotFoundException) when (attempt < MaxAttempts)
            {
                // Removed in between.
            }
        }
    }

    /// <summary>A gain of its own takes care of the peaks.</summary>
    private bool MayClip() =>
        !_job.Steps.Any(step => step.Kind == StepKind.Gain)
        && _job.Steps.Any(
            step => step.Kind == StepKind.Downmix || _job.Level is { Kind: LevelKind.AvoidClipping } && step.Kind == StepKind.Resample);

    /// <summary>
    /// The frames that are taken, where only decoding tells: without the silence that is trimmed, and as long as the sound really is.
    /// </summary>
    private FrameRange MeasurePart()
    {
        using var reader = RouteReader.Open(_job with { Steps = [] }, 1, frames => Tell(frames, proving: false));
        var (sound, length) = DigitalSilence.Measure(reader);
        if (length == 0)
            throw new UnreadableAudioException("No audio could be decoded from the source.");
        // A source that ends too early is not taken for a shorter one.
        RejectTruncated(reader, reader.FrameCount, length);
        if (!_job.Steps.Any(step => step.Kind == StepKind.Trim))
            sound = new FrameRange(0, length);
        return sound.Count == 0
            ? throw new UnreadableAudioException(
                "The whole track is digital silence, so trimming would leave nothing. Turn trimming off for it.")
            : (_job.Part ?? new FrameRange(0, length)).Within(sound);
    }

    private double MeasureGain()
    {
        var measured = LevelMeasurement.Run(new LevelJob(_job), report).Loudness;
        return _job.Level?.GainFor(measured.Integrated, measured.TruePeak) ?? 0;
    }

    /// <summary>Gain that brings the peak to full scale; 1 when it is already below.</summary>
    private double MeasureFittingGain()
    {
        var upToPeak = _job.Steps.Where(step => step.Kind is StepKind.Downmix or StepKind.Arrange or StepKind.Resample).ToList();
        using var reader = RouteReader.Open(_job with { Steps = upToPeak }, 1, frames => Tell(frames, proving: false));
        _totalFrames = reader.FrameCount ?? 0;
        double peak = PeakMeter.Of(reader);
        return peak > Headroom ? Headroom / peak : 1;
    }

    /// <summary>Slightly below full scale, to leave room for the dither of the last step.</summary>
    private const double Headroom = 0.9999;

    private Encoded Encode(GrowingFile file, TagSet tags, double fittingGain)
    {
        using var reader = RouteReader.Open(_job, fittingGain, frames => Tell(frames, proving: false));
        long? declared = reader.FrameCount;
        _totalFrames = declared ?? 0;
        using var writer = _job.IsCarried
            ? AudioFiles.Carry(_job.SourcePath, _job.Sound, file.Writing, reader.Format, tags, _job.Encoder.Format, _job.TagOptions)
            : AudioFiles.Create(file.Writing, reader.Format, tags, _job.Encoder, _job.TagOptions);
        var sum = new SampleSum();
        var block = new SampleBuffer(reader.Format);
        while (reader.Read(block) > 0)
        {
            sum.Append(block);
            writer.Write(block);
        }

        if (sum.Frames == 0)
            throw new UnreadableAudioException("No audio could be decoded from the source.");
        RejectTruncated(reader, declared, sum.Frames);
        writer.Complete();
        file.End();
        long clipped = reader is RequantisingReader requantiser ? requantiser.ClippedSamples : 0;
        return new Encoded(sum.Frames, sum.Value, clipped, [.. reader.Damage]);
    }

    /// <summary>
    /// A lossless source with fewer samples than stated is truncated or damaged: its copy would pass for complete.
    /// A length that is not stated to the sample is no reason to refuse: a second is allowed there.
    /// </summary>
    private void RejectTruncated(IPcmReader reader, long? declared, long got)
    {
        if (declared is not { } promised || got >= promised)
            return;
        long tolerance = StatesExactLength() ? 0 : reader.Format.Rate.Hertz;
        if (got < promised - tolerance)
            throw new UnreadableAudioException(
                ($"The source is damaged: its audio ends at {InMinutes(reader.Format.Duration(got))}, not at "
                    + $"{InMinutes(reader.Format.Duration(promised))}. {string.Join(' ', reader.Damage)}").TrimEnd());
    }

    private bool StatesExactLength()
    {
        using var stream = PlainFile.OpenRead(_job.SourcePath);
        return FileReading.Read(stream).Facts is { IsLossless: true };
    }

    private static string InMinutes(TimeSpan time) => $"{(int)time.TotalMinutes}:{time.Seconds:00}.{time.Milliseconds:000}";

    private void Tell(long frames, bool proving) => report.Tell(frames, _totalFrames, proving);
}

/// <summary>What went into the encoder.</summary>
internal sealed record Encoded(long Frames, UInt128 Sum, long ClippedSamples, IReadOnlyList<string> SourceDamage);
