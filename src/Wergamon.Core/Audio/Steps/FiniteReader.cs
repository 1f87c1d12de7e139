using System.Globalization;
using System.Numerics;
using System.Runtime.InteropServices;

namespace Wergamon.Core.Audio.Steps;

/// <summary>
/// Reads floats that no sound can have as silence: those that are not finite (IEEE 754), and those far beyond full scale, whose squares
/// no sum can hold. One of them would spoil every measurement and every filter behind it.
/// </summary>
/// <param name="source">Floats; owned from now on.</param>
public sealed class FiniteReader(IPcmReader source) : IPcmReader
{
    private const int MaxDecibels = 120;

    /// <summary>Full scale is 1.</summary>
    private const float Max = 1e6f;

    /// <summary>Samples that are looked at together; a multiple of all vectors.</summary>
    private const int Run = 64;

    private long _silenced;

    public IPcmReader Source => source;

    public PcmFormat Format => source.Format;

    public long? FrameCount => source.FrameCount;

    public IReadOnlyList<string> Damage => _silenced == 0
        ? source.Damage
        : [
            .. source.Damage,
            string.Create(
                CultureInfo.InvariantCulture,
                $"{_silenced:#,0} {(_silenced == 1 ? "sample has" : "samples have")} no usable value (not a number, or more than "
                    + $"{MaxDecibels} dB over full scale): read as silence.")
        ];

    public int Read(SampleBuffer block)
    {
        int read = source.Read(block);
        _silenced += Format.Bits == 64 ? Silence<double>(block.Doubles, Max) : Silence(block.Floats, Max);
        return read;
    }

    public void Dispose() => source.Dispose();

    private static int Silence<T>(Span<T> samples, T max)
        where T : struct, IFloatingPointIeee754<T>
    {
        int at = 0, silenced = 0;
        var limit = Vector.Create(max);
        while (at < samples.Length)
        {
            // A comparison with what is not a number is false.
            while (at <= samples.Length - Run && IsUsable(samples.Slice(at, Run), limit))
                at += Run;
            for (int end = Math.Min(samples.Length, at + Run); at < end; at++)
            {
                if (T.Abs(samples[at]) <= max)
                    continue;
                samples[at] = T.Zero;
                silenced++;
            }
        }

        return silenced;
    }

    private static bool IsUsable<T>(ReadOnlySpan<T> run, Vector<T> limit)
        where T : struct, IFloatingPointIeee754<T>
    {
        ref T from = ref MemoryMarshal.GetReference(run);
        var usable = Vector<T>.AllBitsSet;
        for (int at = 0; at < Run; at += Vector<T>.Count)
            usable &= Vector.LessThanOrEqual(Vector.Abs(Vector.LoadUnsafe(ref from, (nuint)at)), limit);
        return Vector.EqualsAll(Vector.AsVectorByte(usable), Vector<byte>.AllBitsSet);
    }
}
