using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;
using System.Runtime.Intrinsics.X86;

namespace Wergamon.Core.Audio;

/// <summary>
/// The discrete Fourier transform of any length, on separate real and imaginary parts. Lengths that are a multiple of 4 and otherwise
/// made of 2, 3, 5 and 7 go stage by stage (Stockham's ordering, in Van Loan, Computational Frameworks for the Fast Fourier Transform,
/// 1992, section 1.7); any other goes by convolution with a chirp (Bluestein, 1970).
/// </summary>
public sealed class FourierTransform
{
    private readonly Stage[] _stages;
    private readonly Chirp? _chirp;
    private readonly double[] _real;
    private readonly double[] _imaginary;

    /// <param name="length">1 or more.</param>
    public FourierTransform(int length)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(length, 1);
        Length = length;
        _stages = StagesOf(length);
        if (_stages.Length == 0 && length > 1)
            _chirp = new Chirp(length);
        _real = new double[length];
        _imaginary = new double[length];
    }

    public int Length { get; }

    /// <summary>Replaces values by their spectrum, not scaled.</summary>
    /// <param name="real">Of <see cref="Length"/>.</param>
    /// <param name="imaginary">Of <see cref="Length"/>.</param>
    public void Forward(Span<double> real, Span<double> imaginary)
    {
        real = real[..Length];
        imaginary = imaginary[..Length];
        if (_chirp is not null)
        {
            _chirp.Forward(real, imaginary);
            return;
        }

        bool isBack = false;
        foreach (var stage in _stages)
        {
            if (isBack)
                stage.Run(_real, _imaginary, real, imaginary);
            else
                stage.Run(real, imaginary, _real, _imaginary);
            isBack = !isBack;
        }

        if (isBack)
        {
            _real.CopyTo(real);
            _imaginary.CopyTo(imaginary);
        }
    }

    /// <summary>Replaces a spectrum by its values, times <see cref="Length"/>.</summary>
    public void Inverse(Span<double> real, Span<double> imaginary) => Forward(imaginary, real);

    /// <summary>Stages of radix 4, 2, 3, 5 and 7; none where the length has other factors or is no multiple of 4.</summary>
    private static Stage[] StagesOf(int length)
    {
        var steps = new List<(int Radix, int Length, int Stride)>();
        int left = length, stride = 1;
        foreach (int radix in (int[])[4, 2, 3, 5, 7])
        {
            for (; left % radix == 0; left /= radix, stride *= radix)
                steps.Add((radix, left, stride));
        }

        if (left != 1 || length % 4 != 0)
            return [];
        var roots = Roots(length);
        return [.. steps.Select(step => new Stage(step.Radix, step.Length, step.Stride, roots))];
    }

    /// <summary>Cosines and sines of the angles, clockwise, that divide a circle.</summary>
    private static (double Cosine, double Sine)[] Roots(int length)
    {
        var roots = new (double Cosine, double Sine)[length];
        for (int i = 0; i < length; i++)
        {
            var (sine, cosine) = Math.SinCos(2 * Math.PI * i / length);
            roots[i] = (cosine, -sine);
        }

        return roots;
    }

    /// <summary>One step: transforms of a few values each, turned and put where the next step wants them.</summary>
    /// <param name="radix">Values of each small transform.</param>
    /// <param name="length">Length of the transforms that are still to do.</param>
    /// <param name="stride">How far they are apart; a multiple of 4 but for the first step.</param>
    /// <param name="roots">Of the whole transform.</param>
    private sealed class Stage(int radix, int length, int stride, (double Cosine, double Sine)[] roots)
    {
        private readonly int _parts = length / radix;
        private readonly double[] _cosines = Turns(radix, length, turn => roots[turn * stride].Cosine);
        private readonly double[] _sines = Turns(radix, length, turn => roots[turn * stride].Sine);
        // The first step takes several of its transforms together, and their turns one after another.
        private readonly double[] _firstCosines = stride == 1 ? FirstTurns(length, turn => roots[turn].Cosine) : [];
        private readonly double[] _firstSines = stride == 1 ? FirstTurns(length, turn => roots[turn].Sine) : [];
        private readonly double[] _smallCosines = [.. Enumerable.Range(0, radix).Select(k => Math.Cos(2 * Math.PI * k / radix))];
        private readonly double[] _smallSines = [.. Enumerable.Range(0, radix).Select(k => Math.Sin(2 * Math.PI * k / radix))];

        public void Run(ReadOnlySpan<double> fromReal, ReadOnlySpan<double> fromImaginary, Span<double> toReal, Span<double> toImaginary)
        {
            if (stride == 1)
                RunFirst(fromReal, fromImaginary, toReal, toImaginary);
            else if (radix == 4)
                RunFour(fromReal, fromImaginary, toReal, toImaginary);
            else if (radix == 2)
                RunTwo(fromReal, fromImaginary, toReal, toImaginary);
            else
                RunOdd(fromReal, fromImaginary, toReal, toImaginary);
        }

        private static double[] Turns(int radix, int length, Func<int, double> part)
        {
            int parts = length / radix;
            var turns = new double[parts * (radix - 1)];
            for (int p = 0; p < parts; p++)
            {
                for (int k = 1; k < radix; k++)
                    turns[p * (radix - 1) + k - 1] = part(p * k);
            }

            return turns;
        }

        private static double[] FirstTurns(int length, Func<int, double> part)
        {
            int parts = length / 4;
            var turns = new double[3 * parts];
            for (int k = 1; k < 4; k++)
            {
                for (int p = 0; p < parts; p++)
                    turns[(k - 1) * parts + p] = part(p * k);
            }

            return turns;
        }

        /// <summary>Radix 4 on single values: the first step has nothing beside each other to take together.</summary>
        private void RunFirst(
            ReadOnlySpan<double> fromReal, ReadOnlySpan<double> fromImaginary, Span<double> toReal, Span<double> toImaginary)
        {
            for (int p = Avx.IsSupported ? RunFirstByFour(fromReal, fromImaginary, toReal, toImaginary) : 0; p < _parts; p++)
            {
                var (r0, r1, r2, r3) = (fromReal[p], fromReal[p + _parts], fromReal[p + 2 * _parts], fromReal[p + 3 * _parts]);
                var (i0, i1, i2, i3) = (
                    fromImaginary[p], fromImaginary[p + _parts], fromImaginary[p + 2 * _parts], fromImaginary[p + 3 * _parts]);
                var (sumR, sumI, differenceR, differenceI) = (r0 + r2, i0 + i2, r0 - r2, i0 - i2);
                var (otherR, otherI, turnedR, turnedI) = (r1 + r3, i1 + i3, i1 - i3, r3 - r1);
                int at = 4 * p, turn = 3 * p;
                toReal[at] = sumR + otherR;
                toImaginary[at] = sumI + otherI;
                Put(differenceR + turnedR, differenceI + turnedI, turn, at + 1, toReal, toImaginary);
                Put(sumR - otherR, sumI - otherI, turn + 1, at + 2, toReal, toImaginary);
                Put(differenceR - turnedR, differenceI - turnedI, turn + 2, at + 3, toReal, toImaginary);
            }
        }

        /// <summary>
        /// Four of the first transforms at a time, whose results are then put beside each other; returns how many are done.
        /// </summary>
        private int RunFirstByFour(
            ReadOnlySpan<double> fromReal, ReadOnlySpan<double> fromImaginary, Span<double> toReal, Span<double> toImaginary)
        {
            ref double re = ref MemoryMarshal.GetReference(fromReal), im = ref MemoryMarshal.GetReference(fromImaginary);
            ref double outRe = ref MemoryMarshal.GetReference(toReal), outIm = ref MemoryMarshal.GetReference(toImaginary);
            ref double cosines = ref MemoryMarshal.GetArrayDataReference(_firstCosines),
                sines = ref MemoryMarshal.GetArrayDataReference(_firstSines);
            nuint next = (nuint)_parts;
            int p = 0;
            for (; p <= _parts - 4; p += 4)
            {
                nuint a = (nuint)p;
                var (r0, r1, r2, r3) = (
                    Vector256.LoadUnsafe(ref re, a), Vector256.LoadUnsafe(ref re, a + next), Vector256.LoadUnsafe(ref re, a + 2 * next),
                    Vector256.LoadUnsafe(ref re, a + 3 * next));
                var (i0, i1, i2, i3) = (
                    Vector256.LoadUnsafe(ref im, a), Vector256.LoadUnsafe(ref im, a + next), Vector256.LoadUnsafe(ref im, a + 2 * next),
                    Vector256.LoadUnsafe(ref im, a + 3 * next));
                var (sumR, sumI, differenceR, differenceI) = (r0 + r2, i0 + i2, r0 - r2, i0 - i2);
                var (otherR, otherI, turnedR, turnedI) = (r1 + r3, i1 + i3, i1 - i3, r3 - r1);
                var (b1R, b1I) = Turn(
                    differenceR + turnedR, differenceI + turnedI, Vector256.LoadUnsafe(ref cosines, a), Vector256.LoadUnsafe(ref sines, a));
                var (b2R, b2I) = Turn(
                    sumR - otherR, sumI - otherI, Vector256.LoadUnsafe(ref cosines, a + next), Vector256.LoadUnsafe(ref sines, a + next));
                var (b3R, b3I) = Turn(
                    differenceR - turnedR, differenceI - turnedI, Vector256.LoadUnsafe(ref cosines, a + 2 * next),
                    Vector256.LoadUnsafe(ref sines, a + 2 * next));
                StoreTransposed(sumR + otherR, b1R, b2R, b3R, ref outRe, 4 * a);
                StoreTransposed(sumI + otherI, b1I, b2I, b3I, ref outIm, 4 * a);
            }

            return p;
        }

        private static (Vector256<double> Real, Vector256<double> Imaginary) Turn(
            Vector256<double> real, Vector256<double> imaginary, Vector256<double> cosine, Vector256<double> sine) =>
            (Vector256.FusedMultiplyAdd(real, cosine, -(imaginary * sine)), Vector256.FusedMultiplyAdd(real, sine, imaginary * cosine));

        private static void StoreTransposed(
            Vector256<double> a, Vector256<double> b, Vector256<double> c, Vector256<double> d, ref double into, nuint at)
        {
            var (lowAb, highAb, lowCd, highCd) = (Avx.UnpackLow(a, b), Avx.UnpackHigh(a, b), Avx.UnpackLow(c, d), Avx.UnpackHigh(c, d));
            Avx.Permute2x128(lowAb, lowCd, 0x20).StoreUnsafe(ref into, at);
            Avx.Permute2x128(highAb, highCd, 0x20).StoreUnsafe(ref into, at + 4);
            Avx.Permute2x128(lowAb, lowCd, 0x31).StoreUnsafe(ref into, at + 8);
            Avx.Permute2x128(highAb, highCd, 0x31).StoreUnsafe(ref into, at + 12);
        }

        private void Put(double real, double imaginary, int turn, int at, Span<double> toReal, Span<double> toImaginary)
        {
            double cosine = _cosines[turn], sine = _sines[turn];
            toReal[at] = real * cosine - imaginary * sine;
            toImaginary[at] = real * sine + imaginary * cosine;
        }

        private void RunFour(
            ReadOnlySpan<double> fromReal, ReadOnlySpan<double> fromImaginary, Span<double> toReal, Span<double> toImaginary)
        {
            ref double re = ref MemoryMarshal.GetReference(fromReal), im = ref MemoryMarshal.GetReference(fromImaginary);
            ref double outRe = ref MemoryMarshal.GetReference(toReal), outIm = ref MemoryMarshal.GetReference(toImaginary);
            nuint next = (nuint)(stride * _parts), width = (nuint)stride;
            for (int p = 0; p < _parts; p++)
            {
                var (c1, c2, c3) = (
                    Vector256.Create(_cosines[3 * p]), Vector256.Create(_cosines[3 * p + 1]), Vector256.Create(_cosines[3 * p + 2]));
                var (s1, s2, s3) = (
                    Vector256.Create(_sines[3 * p]), Vector256.Create(_sines[3 * p + 1]), Vector256.Create(_sines[3 * p + 2]));
                nuint from = (nuint)(stride * p), to = (nuint)(4 * stride * p);
                for (nuint q = 0; q < width; q += 4)
                {
                    nuint a = from + q, y = to + q;
                    var (r0, r1, r2, r3) = (
                        Vector256.LoadUnsafe(ref re, a), Vector256.LoadUnsafe(ref re, a + next), Vector256.LoadUnsafe(ref re, a + 2 * next),
                        Vector256.LoadUnsafe(ref re, a + 3 * next));
                    var (i0, i1, i2, i3) = (
                        Vector256.LoadUnsafe(ref im, a), Vector256.LoadUnsafe(ref im, a + next), Vector256.LoadUnsafe(ref im, a + 2 * next),
                        Vector256.LoadUnsafe(ref im, a + 3 * next));
                    var (sumR, sumI, differenceR, differenceI) = (r0 + r2, i0 + i2, r0 - r2, i0 - i2);
                    var (otherR, otherI, turnedR, turnedI) = (r1 + r3, i1 + i3, i1 - i3, r3 - r1);
                    (sumR + otherR).StoreUnsafe(ref outRe, y);
                    (sumI + otherI).StoreUnsafe(ref outIm, y);
                    Store(differenceR + turnedR, differenceI + turnedI, c1, s1, ref outRe, ref outIm, y + width);
                    Store(sumR - otherR, sumI - otherI, c2, s2, ref outRe, ref outIm, y + 2 * width);
                    Store(differenceR - turnedR, differenceI - turnedI, c3, s3, ref outRe, ref outIm, y + 3 * width);
                }
            }
        }

        private void RunTwo(
            ReadOnlySpan<double> fromReal, ReadOnlySpan<double> fromImaginary, Span<double> toReal, Span<double> toImaginary)
        {
            ref double re = ref MemoryMarshal.GetReference(fromReal), im = ref MemoryMarshal.GetReference(fromImaginary);
            ref double outRe = ref MemoryMarshal.GetReference(toReal), outIm = ref MemoryMarshal.GetReference(toImaginary);
            nuint next = (nuint)(stride * _parts), width = (nuint)stride;
            for (int p = 0; p < _parts; p++)
            {
                var (cosine, sine) = (Vector256.Create(_cosines[p]), Vector256.Create(_sines[p]));
                nuint from = (nuint)(stride * p), to = (nuint)(2 * stride * p);
                for (nuint q = 0; q < width; q += 4)
                {
                    nuint a = from + q, y = to + q;
                    var (r0, r1, i0, i1) = (
                        Vector256.LoadUnsafe(ref re, a), Vector256.LoadUnsafe(ref re, a + next), Vector256.LoadUnsafe(ref im, a),
                        Vector256.LoadUnsafe(ref im, a + next));
                    (r0 + r1).StoreUnsafe(ref outRe, y);
                    (i0 + i1).StoreUnsafe(ref outIm, y);
                    Store(r0 - r1, i0 - i1, cosine, sine, ref outRe, ref outIm, y + width);
                }
            }
        }

        /// <summary>Radix 3, 5 and 7: sums and differences of values that mirror each other.</summary>
        private void RunOdd(
            ReadOnlySpan<double> fromReal, ReadOnlySpan<double> fromImaginary, Span<double> toReal, Span<double> toImaginary)
        {
            const int MaxPairs = 3;
            ref double re = ref MemoryMarshal.GetReference(fromReal), im = ref MemoryMarshal.GetReference(fromImaginary);
            ref double outRe = ref MemoryMarshal.GetReference(toReal), outIm = ref MemoryMarshal.GetReference(toImaginary);
            nuint next = (nuint)(stride * _parts), width = (nuint)stride;
            int pairs = radix / 2;
            Span<Vector256<double>> sumsR = stackalloc Vector256<double>[MaxPairs], sumsI = stackalloc Vector256<double>[MaxPairs];
            Span<Vector256<double>> differencesR = stackalloc Vector256<double>[MaxPairs],
                differencesI = stackalloc Vector256<double>[MaxPairs];
            for (int p = 0; p < _parts; p++)
            {
                nuint from = (nuint)(stride * p), to = (nuint)(radix * stride * p);
                int turn = p * (radix - 1);
                for (nuint q = 0; q < width; q += 4)
                {
                    nuint a = from + q, y = to + q;
                    var (firstR, firstI) = (Vector256.LoadUnsafe(ref re, a), Vector256.LoadUnsafe(ref im, a));
                    var (allR, allI) = (firstR, firstI);
                    for (int j = 0; j < pairs; j++)
                    {
                        nuint low = a + (nuint)(j + 1) * next, high = a + (nuint)(radix - 1 - j) * next;
                        var (lowR, highR, lowI, highI) = (
                            Vector256.LoadUnsafe(ref re, low), Vector256.LoadUnsafe(ref re, high), Vector256.LoadUnsafe(ref im, low),
                            Vector256.LoadUnsafe(ref im, high));
                        (sumsR[j], sumsI[j], differencesR[j], differencesI[j]) = (lowR + highR, lowI + highI, lowR - highR, lowI - highI);
                        allR += sumsR[j];
                        allI += sumsI[j];
                    }

                    allR.StoreUnsafe(ref outRe, y);
                    allI.StoreUnsafe(ref outIm, y);
                    for (int k = 1; k <= pairs; k++)
                    {
                        var (evenR, evenI, oddR, oddI) = (firstR, firstI, Vector256<double>.Zero, Vector256<double>.Zero);
                        for (int j = 0, angle = k; j < pairs; j++, angle += k)
                        {
                            if (angle >= radix)
                                angle -= radix;
                            var (cosine, sine) = (Vector256.Create(_smallCosines[angle]), Vector256.Create(_smallSines[angle]));
                            evenR = Vector256.FusedMultiplyAdd(sumsR[j], cosine, evenR);
                            evenI = Vector256.FusedMultiplyAdd(sumsI[j], cosine, evenI);
                            oddR = Vector256.FusedMultiplyAdd(differencesR[j], sine, oddR);
                            oddI = Vector256.FusedMultiplyAdd(differencesI[j], sine, oddI);
                        }

                        int other = radix - k;
                        Store(
                            evenR + oddI, evenI - oddR, Vector256.Create(_cosines[turn + k - 1]), Vector256.Create(_sines[turn + k - 1]),
                            ref outRe, ref outIm, y + (nuint)k * width);
                        Store(
                            evenR - oddI, evenI + oddR, Vector256.Create(_cosines[turn + other - 1]),
                            Vector256.Create(_sines[turn + other - 1]), ref outRe, ref outIm, y + (nuint)other * width);
                    }
                }
            }
        }

        private static void Store(
            Vector256<double> real, Vector256<double> imaginary, Vector256<double> cosine, Vector256<double> sine, ref double outRe,
            ref double outIm, nuint at)
        {
            var (turnedReal, turnedImaginary) = Turn(real, imaginary, cosine, sine);
            turnedReal.StoreUnsafe(ref outRe, at);
            turnedImaginary.StoreUnsafe(ref outIm, at);
        }
    }

    /// <summary>A transform of any length as a convolution, carried out by transforms of a power of two.</summary>
    private sealed class Chirp
    {
        private readonly int _length;
        private readonly FourierTransform _inner;
        private readonly double[] _cosines;
        private readonly double[] _sines;
        private readonly double[] _filterReal;
        private readonly double[] _filterImaginary;
        private readonly double[] _real;
        private readonly double[] _imaginary;

        public Chirp(int length)
        {
            _length = length;
            int inner = (int)Math.Max(4, System.Numerics.BitOperations.RoundUpToPowerOf2((uint)(2 * length - 1)));
            _inner = new FourierTransform(inner);
            (_cosines, _sines) = (new double[length], new double[length]);
            (_filterReal, _filterImaginary, _real, _imaginary) = (
                new double[inner], new double[inner], new double[inner], new double[inner]);
            for (int k = 0; k < length; k++)
            {
                // The square, taken around the circle so that the angle stays exact.
                double angle = Math.PI * ((long)k * k % (2L * length)) / length;
                (_cosines[k], _sines[k]) = (Math.Cos(angle), -Math.Sin(angle));
                foreach (int at in (int[])[k, k == 0 ? 0 : inner - k])
                    (_filterReal[at], _filterImaginary[at]) = (_cosines[k], -_sines[k]);
            }

            _inner.Forward(_filterReal, _filterImaginary);
        }

        public void Forward(Span<double> real, Span<double> imaginary)
        {
            Array.Clear(_real);
            Array.Clear(_imaginary);
            for (int k = 0; k < _length; k++)
            {
                _real[k] = real[k] * _cosines[k] - imaginary[k] * _sines[k];
                _imaginary[k] = real[k] * _sines[k] + imaginary[k] * _cosines[k];
            }

            _inner.Forward(_real, _imaginary);
            for (int k = 0; k < _real.Length; k++)
            {
                double product = _real[k] * _filterReal[k] - _imaginary[k] * _filterImaginary[k];
                _imaginary[k] = _real[k] * _filterImaginary[k] + _imaginary[k] * _filterReal[k];
                _real[k] = product;
            }

            _inner.Inverse(_real, _imaginary);
            double scale = 1.0 / _real.Length;
            for (int k = 0; k < _length; k++)
            {
                real[k] = (_real[k] * _cosines[k] - _imaginary[k] * _sines[k]) * scale;
                imaginary[k] = (_real[k] * _sines[k] + _imaginary[k] * _cosines[k]) * scale;
            }
        }
    }
}
