using System.Runtime.InteropServices;

namespace Wergamon.Core.Audio;

/// <summary>
/// A block of interleaved samples of one <see cref="PcmFormat"/>. Integers of any depth are right-justified
/// and signed in 32-bit words, so that a lossless path stays in integers; floats keep their width.
/// The block is reused from read to write; nothing is allocated per block.
/// </summary>
public sealed class SampleBuffer
{
    /// <summary>Default capacity in frames: large enough to amortise calls, small enough for the cache.</summary>
    public const int DefaultCapacity = 4096;

    private readonly byte[] _bytes;
    private int _frameCount;

    /// <param name="format">Format of the samples.</param>
    /// <param name="capacity">The most frames the block can hold.</param>
    public SampleBuffer(PcmFormat format, int capacity = DefaultCapacity)
    {
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(capacity);
        Format = format;
        Capacity = capacity;
        _bytes = new byte[checked(capacity * format.Channels * (format is { IsFloat: true, Bits: 64 } ? 8 : 4))];
    }

    public PcmFormat Format { get; }

    public int Capacity { get; }

    /// <summary>Frames in use, from the start of the block.</summary>
    public int FrameCount
    {
        get => _frameCount;
        set
        {
            ArgumentOutOfRangeException.ThrowIfNegative(value);
            ArgumentOutOfRangeException.ThrowIfGreaterThan(value, Capacity);
            _frameCount = value;
        }
    }

    /// <summary>The samples in use, for integer formats.</summary>
    public Span<int> Integers => View<int>(!Format.IsFloat);

    /// <summary>The samples in use, for 32-bit float formats.</summary>
    public Span<float> Floats => View<float>(Format is { IsFloat: true, Bits: 32 });

    /// <summary>The samples in use, for 64-bit float formats.</summary>
    public Span<double> Doubles => View<double>(Format is { IsFloat: true, Bits: 64 });

    /// <summary>Copies frames to the start of another block of the same format, which then holds just these.</summary>
    public void CopyTo(SampleBuffer other, int start, int count)
    {
        ArgumentOutOfRangeException.ThrowIfGreaterThan(start + count, _frameCount);
        other.FrameCount = count;
        int width = _bytes.Length / Capacity;
        _bytes.AsSpan(start * width, count * width).CopyTo(other._bytes);
    }

    private Span<T> View<T>(bool allowed) where T : struct
    {
        if (!allowed)
            throw new InvalidOperationException($"This block holds {Format.BitsInWords} samples, not {typeof(T).Name}.");
        return MemoryMarshal.Cast<byte, T>(_bytes.AsSpan())[..(_frameCount * Format.Channels)];
    }
}
