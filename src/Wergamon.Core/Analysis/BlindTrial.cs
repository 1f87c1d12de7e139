using System.Buffers.Binary;
using System.Security.Cryptography;

namespace Wergamon.Core.Analysis;

/// <summary>A blind test of two sounds: which of them X is in each trial, and what a score is worth.</summary>
public static class BlindTrial
{
    /// <summary>Bytes of a seed.</summary>
    public const int SeedLength = 16;

    /// <summary>
    /// Whether X is the first sound in a trial: the lowest bit of the SHA-256 of the seed and the number, so that a result can be checked.
    /// </summary>
    /// <param name="trial">From 1.</param>
    public static bool IsFirst(ReadOnlySpan<byte> seed, int trial)
    {
        Span<byte> text = stackalloc byte[seed.Length + sizeof(int)];
        seed.CopyTo(text);
        BinaryPrimitives.WriteInt32BigEndian(text[seed.Length..], trial);
        return (SHA256.HashData(text)[^1] & 1) == 0;
    }

    /// <summary>
    /// How likely it is to be right this often, or more often, by guessing: the upper tail of the binomial distribution with 1/2.
    /// </summary>
    public static double ByGuessing(int right, int trials)
    {
        // The number of ways to be right k times, over all ways there are.
        double sum = 0, ways = Math.Pow(2, -trials);
        for (int k = 0; k <= trials; k++)
        {
            if (k >= right)
                sum += ways;
            ways *= (double)(trials - k) / (k + 1);
        }

        return Math.Min(1, sum);
    }
}
