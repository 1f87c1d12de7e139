namespace Wergamon.Core.Audio;

/// <summary>Frames of a file that follow each other.</summary>
/// <param name="Start">The first, from 0.</param>
/// <param name="Count">How many; <see cref="ToEnd"/> for all that follow.</param>
public readonly record struct FrameRange(long Start, long Count)
{
    /// <summary>So many that no file has them.</summary>
    public const long ToEnd = long.MaxValue / 2;

    public long End => Start + Count;

    public bool Holds(long frame) => frame >= Start && frame < End;

    /// <summary>The part of this range that an inner one, counted from its start, names.</summary>
    public FrameRange Within(FrameRange inner) => new(Start + inner.Start, Math.Min(inner.Count, Count - inner.Start));
}
