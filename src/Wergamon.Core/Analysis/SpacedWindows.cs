namespace Wergamon.Core.Analysis;

/// <summary>
/// Short windows of a signal at even distances, all channels in one: enough to know a spectrum, without reading all of it.
/// </summary>
/// <param name="channels">Samples a frame.</param>
/// <param name="length">Frames of a window.</param>
/// <param name="every">Frames from one window to the next; at least <paramref name="length"/>.</param>
/// <param name="nextWeight">What each channel counts against the one before it.</param>
/// <param name="take">Gets each window; may write to it.</param>
internal sealed class SpacedWindows(int channels, int length, int every, float nextWeight, Action<double[]> take)
{
    private readonly double[] _window = new double[length];
    private int _filled;
    private long _skip;

    /// <param name="samples">Whole frames, interleaved.</param>
    public void Append(ReadOnlySpan<float> samples)
    {
        for (int at = 0; at < samples.Length; at += channels)
        {
            if (_skip > 0)
            {
                long frames = Math.Min(_skip, (samples.Length - at) / channels);
                _skip -= frames;
                at += (int)(frames - 1) * channels;
                continue;
            }

            _window[_filled] = Mix(samples.Slice(at, channels), nextWeight);
            if (++_filled < length)
                continue;
            take(_window);
            (_filled, _skip) = (0, every - length);
        }
    }

    /// <summary>All channels of a frame in one.</summary>
    public static double Mix(ReadOnlySpan<float> frame, float nextWeight)
    {
        double sum = 0, weight = 1;
        foreach (float sample in frame)
        {
            sum += weight * sample;
            weight *= nextWeight;
        }

        return sum;
    }
}
