using System.Numerics;

namespace Wergamon.Core.Discs.Reading;

/// <summary>Finds by how many frames a read started early or late, from frames whose place is known.</summary>
internal static class ChunkPlacement
{
    /// <summary>
    /// The shift at which the window matches the known frames, or most of them if it has errors; null when none fits, or when
    /// several fit equally well, as they do in silence.
    /// </summary>
    /// <param name="known">Frames of the disc from <paramref name="knownStart"/> on.</param>
    public static int? Find(FrameWindow window, ReadOnlySpan<uint> known, long knownStart, int mostJitter)
    {
        if (known.IsEmpty)
            return null;
        int? found = null;
        for (int shift = -mostJitter; shift <= mostJitter; shift++)
        {
            if (!window.Slice(knownStart, knownStart + known.Length, shift).SequenceEqual(known))
                continue;
            if (found is not null)
                return null;
            found = shift;
        }

        return found ?? Relative(window, known, knownStart, mostJitter);
    }

    /// <summary>The shift at which two reads of the same place agree clearly more than at any other; null when there is none.</summary>
    /// <param name="reference">A read of the frames from <paramref name="start"/> on, wherever it really started.</param>
    public static int? Relative(FrameWindow window, ReadOnlySpan<uint> reference, long start, int mostShift)
    {
        int best = 0, most = 0, second = 0;
        for (int shift = -mostShift; shift <= mostShift; shift++)
        {
            int equal = CountEqual(window.Slice(start, start + reference.Length, shift), reference);
            if (equal > most)
                (best, most, second) = (shift, equal, most);
            else
                second = Math.Max(second, equal);
        }

        return most - second > reference.Length / 8 ? best : null;
    }

    /// <summary>True when frames differ from themselves at every shift of up to twice the drive's jitter.</summary>
    public static bool IsDistinct(ReadOnlySpan<uint> frames, int mostJitter)
    {
        for (int shift = 1; shift <= 2 * mostJitter; shift++)
        {
            if (frames[shift..].SequenceEqual(frames[..^shift]))
                return false;
        }

        return true;
    }

    /// <summary>Start of the stretch in which frames change most, the hardest to mistake for another.</summary>
    /// <param name="most">Maximum result.</param>
    public static int MaxChanging(ReadOnlySpan<uint> frames, int length, int most)
    {
        int best = 0, bestChanges = -1;
        for (int step = 0; step * length < most + length; step++)
        {
            int at = Math.Min(step * length, most);
            int changes = length - 1 - CountEqual(frames.Slice(at, length - 1), frames.Slice(at + 1, length - 1));
            if (changes > bestChanges)
                (best, bestChanges) = (at, changes);
        }

        return best;
    }

    private static int CountEqual(ReadOnlySpan<uint> one, ReadOnlySpan<uint> other)
    {
        if (one.Length != other.Length)
            return 0;
        int equal = 0, at = 0;
        // A lane that is equal counts as all ones, which is minus one.
        for (; at + Vector<uint>.Count <= one.Length; at += Vector<uint>.Count)
            equal -= (int)Vector.Sum(Vector.AsVectorInt32(Vector.Equals(new Vector<uint>(one[at..]), new Vector<uint>(other[at..]))));
        for (; at < one.Length; at++)
            equal += one[at] == other[at] ? 1 : 0;
        return equal;
    }
}
