using System.Globalization;
using System.Numerics;

namespace Wergamon.Core.Audio;

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

    private long _silenced;

    public IPcmReader Source => source;

    public PcmFormat Format => source.Format;

    public long? FrameCount => source.FrameCount;

    public IReadOnlyList<string> Damage => _silenced == 0
        ? source.Damage
        : [.. source.Damage, string.Create(CultureInfo.InvariantCulture, $"{_silenced:#,0} {(_silenced == 1 ? "sample has" : "samples have")} no usable value (not a number, or more than {MaxDecibels} dB over full scale): read as silence.")];

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
            while (at <= samples.Length - Vector<T>.Count && Vector.LessThanOrEqualAll(Vector.Abs(new Vector<T>(samples[at..])), limit))
                at += Vector<T>.Count;
            for (int end = Math.Min(samples.Length, at + Vector<T>.Count); at < end; at++)
            {
                if (T.Abs(samples[at]) <= max)
                    continue;
                samples[at] = T.Zero;
                silenced++;
            }
        }

        return silenced;
    }
}
