using System.Numerics;

namespace Wergamon.Core.Audio;

/// <summary>Blocks of any format as 32-bit floats with full scale 1, for measurements that need 24 bits of precision.</summary>
internal sealed class FloatSamples
{
    private float[] _samples = [];

    /// <summary>The samples of the block, interleaved; valid until the next call.</summary>
    public ReadOnlySpan<float> Of(SampleBuffer block)
    {
        if (block.Format is { IsFloat: true, Bits: 32 })
            return block.Floats;
        int count = block.FrameCount * block.Format.Channels;
        if (_samples.Length < count)
            _samples = new float[count];
        var to = _samples.AsSpan(0, count);
        if (block.Format.IsFloat)
        {
            var doubles = block.Doubles;
            for (int i = 0; i < count; i++)
                to[i] = (float)doubles[i];
        }
        else
        {
            Scale(block.Integers, to, 1f / (1L << (block.Format.Bits - 1)));
        }

        return to;
    }

    /// <summary>What <see cref="Of"/> gave for the same block, which has not changed since.</summary>
    public ReadOnlySpan<float> Again(SampleBuffer block) =>
        block.Format is { IsFloat: true, Bits: 32 } ? block.Floats : _samples.AsSpan(0, block.FrameCount * block.Format.Channels);

    private static void Scale(ReadOnlySpan<int> from, Span<float> to, float scale)
    {
        int at = 0;
        for (int width = Vector<int>.Count; at <= from.Length - width; at += width)
            (Vector.ConvertToSingle(new Vector<int>(from[at..])) * scale).CopyTo(to[at..]);
        for (; at < from.Length; at++)
            to[at] = from[at] * scale;
    }
}
