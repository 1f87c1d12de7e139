using System.Numerics;

namespace Wergamon.Core.Analysis;

/// <summary>Radix-2 fast Fourier transform (Cooley and Tukey, 1965), in place, for one length.</summary>
internal sealed class Fourier
{
    private readonly Complex[] _turns;
    private readonly int[] _reversed;

    /// <param name="length">A power of two, 2 or more.</param>
    public Fourier(int length)
    {
        if (length < 2 || !BitOperations.IsPow2(length))
            throw new ArgumentOutOfRangeException(nameof(length));
        Length = length;
        _turns = new Complex[length / 2];
        for (int i = 0; i < _turns.Length; i++)
            _turns[i] = Complex.FromPolarCoordinates(1, -2 * Math.PI * i / length);
        _reversed = new int[length];
        int bits = BitOperations.Log2((uint)length);
        for (int i = 1; i < length; i++)
            _reversed[i] = _reversed[i >> 1] >> 1 | (i & 1) << (bits - 1);
    }

    public int Length { get; }

    /// <param name="values">Of <see cref="Length"/>; becomes its spectrum, not scaled.</param>
    public void Forward(Span<Complex> values)
    {
        for (int i = 0; i < Length; i++)
        {
            if (i < _reversed[i])
                (values[i], values[_reversed[i]]) = (values[_reversed[i]], values[i]);
        }

        for (int half = 1; half < Length; half *= 2)
        {
            int step = Length / (2 * half);
            for (int start = 0; start < Length; start += 2 * half)
            {
                for (int i = 0; i < half; i++)
                {
                    var odd = values[start + half + i] * _turns[i * step];
                    values[start + half + i] = values[start + i] - odd;
                    values[start + i] += odd;
                }
            }
        }
    }
}
