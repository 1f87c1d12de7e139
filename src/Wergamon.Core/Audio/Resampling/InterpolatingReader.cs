namespace Wergamon.Core.Audio.Resampling;

/// <summary>
/// Reads PCM at places between its samples: later or earlier by a fraction of a sample, or faster and slower by a few per cent. Frame n of
/// the result is the source at <c>start + n * step</c>.
/// </summary>
public sealed class InterpolatingReader : IPcmReader
{
    private const int ChunkFrames = SampleBuffer.DefaultCapacity;

    private readonly ISeekablePcm _source;
    private readonly double _start, _step;
    private readonly SincInterpolator _sinc;
    private readonly SampleBuffer _block;
    private readonly float[][] _lines;
    private readonly FloatSamples _floats = new();
    private long _next;

    /// <param name="source">Stays open.</param>
    /// <param name="start">Place of the first frame, in frames of the source.</param>
    /// <param name="step">Frames of the source per frame of the result; near 1.</param>
    public InterpolatingReader(ISeekablePcm source, double start, double step)
    {
        (_source, _start, _step, _sinc) = (source, start, step, new SincInterpolator(step));
        Format = source.Format with { Bits = 32, Kind = SampleKind.Float };
        FrameCount = Math.Max(0, (long)Math.Ceiling((source.FrameCount - start) / step));
        int width = (int)Math.Ceiling(ChunkFrames * step) + 2 * SincInterpolator.Reach + 2;
        _block = new SampleBuffer(source.Format, width);
        _lines = [.. Enumerable.Range(0, Format.Channels).Select(_ => new float[width])];
    }

    public PcmFormat Format { get; }

    public long? FrameCount { get; }

    public IReadOnlyList<string> Damage => [];

    public int Read(SampleBuffer block)
    {
        int frames = (int)Math.Clamp(FrameCount!.Value - _next, 0, Math.Min(block.Capacity, ChunkFrames));
        block.FrameCount = frames;
        if (frames == 0)
            return 0;
        double place = _start + _next * _step;
        long first = (long)Math.Floor(place) - SincInterpolator.Reach + 1;
        int width = (int)((long)Math.Floor(place + (frames - 1) * _step) + SincInterpolator.Reach + 1 - first);
        ReadLines(first, width);
        var to = block.Floats;
        for (int frame = 0; frame < frames; frame++)
        {
            double here = place + frame * _step - first;
            int whole = (int)here;
            _sinc.MoveTo(here - whole);
            for (int channel = 0; channel < _lines.Length; channel++)
                to[frame * _lines.Length + channel] = _sinc.Of(
                    _lines[channel].AsSpan(whole - SincInterpolator.Reach + 1, 2 * SincInterpolator.Reach));
        }

        _next += frames;
        return frames;
    }

    public void Dispose() { }

    private void ReadLines(long first, int width)
    {
        _source.Read(first, width, _block);
        var samples = _floats.Of(_block);
        for (int channel = 0; channel < _lines.Length; channel++)
        {
            var line = _lines[channel];
            for (int i = 0, at = channel; i < width; i++, at += _lines.Length)
                line[i] = samples[at];
        }
    }
}
