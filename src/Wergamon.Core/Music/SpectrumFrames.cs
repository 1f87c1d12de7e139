using Wergamon.Core.Audio;

namespace Wergamon.Core.Music;

/// <summary>
/// Magnitude spectra of overlapping, Hann-windowed frames of a signal that arrives in blocks; two frames share one transform.
/// </summary>
/// <param name="length">Samples of a frame; even.</param>
/// <param name="hop">Samples from one frame to the next.</param>
/// <param name="take">Gets the magnitudes of each frame in order, from 0 Hz to half the rate; a sine of amplitude 1 has magnitude 1. Valid
/// during the call.</param>
internal sealed class SpectrumFrames(int length, int hop, SpectrumFrames.TakeFrame take)
{
    private readonly FourierTransform _fourier = new(length);
    private readonly double[] _window = [
        .. Enumerable.Range(0, length).Select(i => (1 - Math.Cos(2 * Math.PI * (i + 0.5) / length)) * 2 / length)
    ];
    private readonly double[] _real = new double[length];
    private readonly double[] _imaginary = new double[length];
    private readonly float[] _held = new float[length + hop];
    private readonly float[] _magnitudes = new float[length / 2 + 1];
    private int _count;

    public delegate void TakeFrame(ReadOnlySpan<float> magnitudes);

    public void Append(ReadOnlySpan<float> mono)
    {
        while (!mono.IsEmpty)
        {
            int some = Math.Min(mono.Length, _held.Length - _count);
            mono[..some].CopyTo(_held.AsSpan(_count));
            _count += some;
            mono = mono[some..];
            if (_count == _held.Length)
                TakeTwo();
        }
    }

    /// <summary>Processes the rest as if silence followed, until the last sample has been in the middle of a frame.</summary>
    public void Finish()
    {
        for (int left = _count + length / 2 - length; left >= 0 && _count > 0; left -= 2 * hop)
        {
            _held.AsSpan(_count).Clear();
            _count = _held.Length;
            TakeTwo();
        }
    }

    private void TakeTwo()
    {
        for (int i = 0; i < length; i++)
        {
            _real[i] = _held[i] * _window[i];
            _imaginary[i] = _held[i + hop] * _window[i];
        }

        _fourier.Forward(_real, _imaginary);
        Split(isSecond: false);
        Split(isSecond: true);
        int used = Math.Min(2 * hop, _held.Length);
        _held.AsSpan(used).CopyTo(_held);
        _count = _held.Length - used;
    }

    /// <summary>
    /// The spectrum of one of two real signals: the even part of the transform belongs to the first, the odd to the second.
    /// </summary>
    private void Split(bool isSecond)
    {
        double sign = isSecond ? -1 : 1;
        for (int bin = 0; bin < _magnitudes.Length; bin++)
        {
            int mirror = bin == 0 ? 0 : length - bin;
            double re = _real[bin] + sign * _real[mirror], im = _imaginary[bin] - sign * _imaginary[mirror];
            _magnitudes[bin] = (float)(0.5 * Math.Sqrt(re * re + im * im));
        }

        take(_magnitudes);
    }
}
