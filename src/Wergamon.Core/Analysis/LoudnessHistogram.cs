using System.Buffers.Binary;

namespace Wergamon.Core.Analysis;

/// <summary>
/// Distribution of the loudness of 400 ms blocks in steps of 0.1 LU, from the absolute gate upwards. Distributions of tracks add
/// up to that of their album; its gated loudness is right to 0.05 LU.
/// </summary>
public sealed class LoudnessHistogram
{
    private const double Lowest = LoudnessGate.Absolute, Step = 0.1;

    private const int Bins = 1000, BytesPerBin = 6;

    private readonly uint[] _counts = new uint[Bins];

    /// <summary>Adds a block; one below the absolute gate counts for nothing.</summary>
    /// <param name="energy">Weighted mean square, as <see cref="LoudnessGate"/> has it.</param>
    public void Add(double energy)
    {
        double loudness = LoudnessGate.InLufs(energy);
        if (loudness >= Lowest)
            _counts[Math.Min(Bins - 1, (int)((loudness - Lowest) / Step))]++;
    }

    /// <param name="bytes">As <see cref="ToBytes"/> gives them; a damaged rest is left out.</param>
    public void Add(ReadOnlySpan<byte> bytes)
    {
        for (; bytes.Length >= BytesPerBin; bytes = bytes[BytesPerBin..])
        {
            int bin = BinaryPrimitives.ReadUInt16LittleEndian(bytes);
            if (bin < Bins)
                _counts[bin] += BinaryPrimitives.ReadUInt32LittleEndian(bytes[2..]);
        }
    }

    /// <summary>Gated loudness in LUFS; null without a block above the absolute gate.</summary>
    public double? Integrated
    {
        get
        {
            double gate = Mean(0) * LoudnessGate.RelativeOfIntegrated;
            int first = Math.Max(0, (int)((LoudnessGate.InLufs(gate) - Lowest) / Step));
            return Mean(first) is > 0 and var mean ? LoudnessGate.InLufs(mean) : null;
        }
    }

    /// <summary>Each used bin: its number in 16 bits, its count in 32, both little-endian.</summary>
    public byte[] ToBytes()
    {
        var bytes = new byte[_counts.Count(count => count > 0) * BytesPerBin];
        var rest = bytes.AsSpan();
        for (int bin = 0; bin < Bins; bin++)
        {
            if (_counts[bin] == 0)
                continue;
            BinaryPrimitives.WriteUInt16LittleEndian(rest, (ushort)bin);
            BinaryPrimitives.WriteUInt32LittleEndian(rest[2..], _counts[bin]);
            rest = rest[BytesPerBin..];
        }

        return bytes;
    }

    private double Mean(int first)
    {
        double sum = 0;
        ulong count = 0;
        for (int bin = first; bin < Bins; bin++)
        {
            if (_counts[bin] == 0)
                continue;
            sum += _counts[bin] * LoudnessGate.EnergyOf(Lowest + (bin + 0.5) * Step);
            count += _counts[bin];
        }

        return count == 0 ? 0 : sum / count;
    }
}
