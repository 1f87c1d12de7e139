using System.Numerics;
using System.Runtime.InteropServices;

namespace Wergamon.Codecs;

/// <summary>The layouts that most music has, in vectors; <see cref="SampleLayout"/> has all others.</summary>
internal static class CommonLayout
{
    /// <summary>Two planes of floats as interleaved ones.</summary>
    /// <param name="to">Twice as long as each plane.</param>
    public static void Interleave(ReadOnlySpan<float> left, ReadOnlySpan<float> right, Span<float> to)
    {
        if (right.Length != left.Length || to.Length != 2 * left.Length)
            throw new ArgumentException("Both planes need one length.", nameof(right));
        ref uint lefts = ref MemoryMarshal.GetReference(MemoryMarshal.Cast<float, uint>(left)),
            rights = ref MemoryMarshal.GetReference(MemoryMarshal.Cast<float, uint>(right));
        ref uint both = ref MemoryMarshal.GetReference(MemoryMarshal.Cast<float, uint>(to));
        int at = 0;
        for (int width = Vector<uint>.Count; at <= left.Length - width; at += width)
        {
            Vector.Widen(Vector.LoadUnsafe(ref lefts, (nuint)at), out var leftLow, out var leftHigh);
            Vector.Widen(Vector.LoadUnsafe(ref rights, (nuint)at), out var rightLow, out var rightHigh);
            Vector.AsVectorUInt32(leftLow | Vector.ShiftLeft(rightLow, 32)).StoreUnsafe(ref both, (nuint)(2 * at));
            Vector.AsVectorUInt32(leftHigh | Vector.ShiftLeft(rightHigh, 32)).StoreUnsafe(ref both, (nuint)(2 * at + width));
        }

        for (; at < left.Length; at++)
            (to[2 * at], to[2 * at + 1]) = (left[at], right[at]);
    }

    /// <summary>Samples of 16 bits as integers.</summary>
    public static void Widen(ReadOnlySpan<short> from, Span<int> to)
    {
        int at = 0;
        for (int width = Vector<short>.Count; at <= from.Length - width; at += width)
        {
            Vector.Widen(new Vector<short>(from[at..]), out var low, out var high);
            low.CopyTo(to[at..]);
            high.CopyTo(to[(at + width / 2)..]);
        }

        for (; at < from.Length; at++)
            to[at] = from[at];
    }
}
