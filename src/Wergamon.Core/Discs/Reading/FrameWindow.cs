namespace Wergamon.Core.Discs.Reading;

/// <summary>What one read of the drive gave, in frames.</summary>
/// <param name="nominalStart">First frame on the disc, if the drive started where it was asked to.</param>
/// <param name="damaged">Sectors, counted from the start of the window, that the drive says it could not read whole.</param>
internal readonly ref struct FrameWindow(ReadOnlySpan<uint> frames, long nominalStart, IReadOnlyCollection<int> damaged)
{
    public ReadOnlySpan<uint> Frames { get; } = frames;

    public long NominalStart { get; } = nominalStart;

    /// <summary>The stretches of the disc that the drive reported as damaged in this read.</summary>
    /// <param name="shift">How many frames late the read started.</param>
    public IEnumerable<(long From, long End)> Damaged(int shift)
    {
        long start = NominalStart + shift;
        return damaged.Order()
            .Select(sector => (start + sector * AudioDisc.FramesPerSector, start + (sector + 1) * AudioDisc.FramesPerSector));
    }

    /// <summary>The frames of the disc from one place to another; empty when the window does not hold them all.</summary>
    /// <param name="shift">How many frames late the read started.</param>
    public ReadOnlySpan<uint> Slice(long from, long end, int shift)
    {
        long at = from - NominalStart - shift;
        return at < 0 || at + end - from > Frames.Length ? default : Frames.Slice((int)at, (int)(end - from));
    }
}
