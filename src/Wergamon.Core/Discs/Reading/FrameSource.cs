using System.Runtime.InteropServices;

namespace Wergamon.Core.Discs.Reading;

/// <summary>
/// Reads a drive by frames instead of sectors: corrects its read offset and reads enough extra that jitter cannot cut anything off.
/// </summary>
internal sealed class FrameSource(IAudioDrive drive)
{
    private readonly int _end = drive.Contents.AudioEnd;
    private readonly HashSet<int> _reported = [];
    private byte[] _bytes = [];

    public DriveTraits Traits => drive.Traits;

    /// <summary>The first frame that the drive can reach with its offset.</summary>
    public long FirstReadable => Math.Max(0, Traits.ReadOffset);

    /// <summary>The frame behind the last that it can reach.</summary>
    public long EndReadable => (long)_end * AudioDisc.FramesPerSector + Math.Min(0, Traits.ReadOffset);

    public long SectorsRead { get; private set; }

    /// <summary>Sectors that the drive reported as damaged, by position on the disc.</summary>
    public HashSet<int> ReportedErrors { get; } = [];

    /// <summary>Reads those of the requested frames that the disc has. The window is valid until the next read.</summary>
    public FrameWindow Read(long from, long end)
    {
        int first = (int)Math.Clamp(FloorDivide(from - Traits.MaxJitter - Traits.ReadOffset), 0, _end - 1);
        int last = (int)Math.Clamp(FloorDivide(end - 1 + Traits.MaxJitter - Traits.ReadOffset) + 1, first + 1, _end);
        int length = (last - first) * AudioDisc.BytesPerSector;
        if (_bytes.Length < length)
            _bytes = new byte[length];
        var bytes = _bytes.AsSpan(0, length);
        _reported.Clear();
        drive.Read(first, bytes, _reported);
        ReportedErrors.UnionWith(_reported);
        SectorsRead += last - first;
        int[] damaged = _reported.Count == 0 ? [] : [.. _reported.Select(sector => sector - first)];
        return new FrameWindow(MemoryMarshal.Cast<byte, uint>(bytes), (long)first * AudioDisc.FramesPerSector + Traits.ReadOffset, damaged);
    }

    /// <summary>
    /// Reads enough elsewhere to flush a stretch from the drive's cache. False when the disc is too
    /// short for that.
    /// </summary>
    public bool DefeatCache(long from, long end)
    {
        const int SectorsAtATime = 26;
        if (Traits.CacheSectors == 0)
            return true;
        int needed = Traits.CacheSectors + SectorsAtATime;
        long guard = 2 * AudioDisc.FramesPerSector + Traits.MaxJitter + Math.Abs(Traits.ReadOffset);
        int before = (int)Math.Max(0, FloorDivide(from - guard));
        int after = (int)Math.Min(_end, FloorDivide(end + guard) + 1);
        // What follows is nearer to where reading continues; what precedes fills up.
        for (int sector = after; sector < _end && needed > 0; sector += SectorsAtATime)
            needed -= Skim(sector, Math.Min(SectorsAtATime, _end - sector));
        for (int sector = 0; sector < before && needed > 0; sector += SectorsAtATime)
            needed -= Skim(sector, Math.Min(SectorsAtATime, before - sector));
        return needed <= SectorsAtATime;
    }

    private int Skim(int sector, int count)
    {
        int length = count * AudioDisc.BytesPerSector;
        if (_bytes.Length < length)
            _bytes = new byte[length];
        drive.Read(sector, _bytes.AsSpan(0, length), new HashSet<int>());
        SectorsRead += count;
        return count;
    }

    private static long FloorDivide(long frame) =>
        frame >= 0 ? frame / AudioDisc.FramesPerSector : -((-frame + AudioDisc.FramesPerSector - 1) / AudioDisc.FramesPerSector);
}
