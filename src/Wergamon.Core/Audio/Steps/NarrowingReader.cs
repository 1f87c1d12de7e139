using System.Globalization;

namespace Wergamon.Core.Audio.Steps;

/// <summary>
/// Drops low bits that are zero in every sample: the values stay what they were. A sample that uses them ends the reading, since
/// the source is not what its analysis found.
/// </summary>
/// <param name="source">Integers; owned from now on.</param>
/// <param name="bits">Bits to keep.</param>
public sealed class NarrowingReader(IPcmReader source, int bits) : IPcmReader
{
    private readonly SampleBuffer _block = new(source.Format);
    private readonly int _shift = source.Format.Bits - bits;

    public PcmFormat Format { get; } = source.Format with { Bits = bits };

    public long? FrameCount => source.FrameCount;

    public IReadOnlyList<string> Damage => source.Damage;

    public int Read(SampleBuffer block)
    {
        block.FrameCount = source.Read(_block);
        var from = _block.Integers;
        var to = block.Integers;
        int used = 0;
        for (int i = 0; i < from.Length; i++)
        {
            used |= from[i];
            to[i] = from[i] >> _shift;
        }

        return (used & ((1 << _shift) - 1)) == 0
            ? block.FrameCount
            : throw new UnreadableAudioException(
                string.Create(CultureInfo.InvariantCulture, $"The source uses more than {bits} bits; it has changed since its analysis."));
    }

    public void Dispose() => source.Dispose();
}
