using System.Runtime.InteropServices;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Reading;

namespace Wergamon.Devices.Drives;

/// <summary>How a simulated drive behaves.</summary>
/// <param name="Speed">As a multiple of playing time, on clean stretches.</param>
/// <param name="JitterShare">The share of reads that start early or late, 0 to 1.</param>
/// <param name="Seed">The same seed gives the same faults in the same order.</param>
public sealed record DriveBehaviour(DriveTraits Traits, double Speed, double JitterShare, ulong Seed);

/// <summary>
/// A drive that reads a disc image as a real drive reads a disc: off by a fixed offset, sometimes a little early
/// or late, from its cache where it can, wrong or slow on scratches.
/// </summary>
public sealed class SimulatedDrive(DriveBehaviour behaviour, LoadedDisc disc, IDriveTime time) : IAudioDrive
{
    private const double SlowestSpeed = 2;

    private readonly Lock _lock = new();
    private readonly Chance _chance = new(behaviour.Seed);
    private readonly SectorCache _cache = new(behaviour.Traits.CacheSectors);
    private readonly int[] _tries = new int[disc.Faults.Count];
    private ulong _reads;
    private byte[] _raw = [];
    private bool _isGone;

    public DriveTraits Traits => behaviour.Traits;

    public TableOfContents Contents => disc.Image.Contents;

    /// <summary>The speed of the last read, as a multiple of playing time.</summary>
    public double SpeedNow { get; private set; } = behaviour.Speed;

    /// <summary>Reads from the disc itself, not from the cache.</summary>
    public long ReadsFromDisc => (long)_reads;

    /// <summary>Ends all reading: the disc was ejected.</summary>
    public void TakeAway()
    {
        lock (_lock)
            _isGone = true;
    }

    public void Read(int firstSector, Span<byte> into, ISet<int> reportedErrors)
    {
        int count = into.Length / AudioDisc.BytesPerSector;
        if (count * AudioDisc.BytesPerSector != into.Length || firstSector < 0)
            throw new ArgumentException("A drive reads whole sectors of the disc.", nameof(into));
        lock (_lock)
        {
            if (_isGone)
                throw new UnreadableDiscException("The disc was taken out while it was being read.");
            if (_cache.TryRead(firstSector, into))
                return;
            _reads++;
            long firstFrame = (long)firstSector * AudioDisc.FramesPerSector + Traits.ReadOffset + Jitter();
            ReadFrames(firstFrame, into);
            int badSectors = ScratchOver(firstFrame, MemoryMarshal.Cast<byte, uint>(into), firstSector, reportedErrors);
            _cache.Keep(firstSector, into);
            Spend(count, badSectors);
        }
    }

    private int Jitter()
    {
        if (Traits.MaxJitter == 0 || _chance.Share(1, _reads) >= behaviour.JitterShare)
            return 0;
        int early = 1 + (int)(_chance.Bits(2, _reads) % (ulong)Traits.MaxJitter);
        return _chance.Share(3, _reads) < 0.5 ? -early : early;
    }

    private void ReadFrames(long firstFrame, Span<byte> into)
    {
        int sector = (int)Math.Floor((double)firstFrame / AudioDisc.FramesPerSector);
        int within = (int)(firstFrame - (long)sector * AudioDisc.FramesPerSector) * sizeof(uint);
        if (within == 0)
        {
            disc.Image.Read(sector, into);
            return;
        }

        int length = into.Length + AudioDisc.BytesPerSector;
        if (_raw.Length < length)
            _raw = new byte[length];
        disc.Image.Read(sector, _raw.AsSpan(0, length));
        _raw.AsSpan(within, into.Length).CopyTo(into);
    }

    /// <summary>Applies the faults of scratches for this read and returns how many sectors were hard to read.</summary>
    private int ScratchOver(long firstFrame, Span<uint> frames, int firstSector, ISet<int> reportedErrors)
    {
        int hard = 0;
        for (int i = 0; i < disc.Faults.Count; i++)
        {
            var fault = disc.Faults[i];
            long from = Math.Max(fault.FirstFrame, firstFrame), end = Math.Min(fault.FirstFrame + fault.Frames, firstFrame + frames.Length);
            if (from >= end)
                continue;
            int attempt = ++_tries[i];
            hard += (int)((end - from) / AudioDisc.FramesPerSector) + 1;
            bool isWrong = fault.Kind switch
            {
                FaultKind.Flaky => _chance.Share(4, (ulong)i, (ulong)attempt) < fault.Share,
                FaultKind.Settling => attempt <= fault.Tries,
                _ => true,
            };
            if (!isWrong)
                continue;
            for (long at = from; at < end; at++)
                frames[(int)(at - firstFrame)] ^= (uint)_chance.Bits(5 + (ulong)i, (ulong)attempt, (ulong)at) | 1;
            if (_chance.Share(6, (ulong)i, (ulong)attempt) < fault.Noticed)
            {
                for (int sector = (int)((from - firstFrame) / AudioDisc.FramesPerSector);
                sector <= (end - 1 - firstFrame) / AudioDisc.FramesPerSector; sector++)
                    reportedErrors.Add(firstSector + sector);
            }
        }

        return hard;
    }

    private void Spend(int sectors, int badSectors)
    {
        double slow = Math.Max(SlowestSpeed, behaviour.Speed / (1 + badSectors));
        SpeedNow = badSectors == 0 ? behaviour.Speed : slow;
        time.Spend(TimeSpan.FromSeconds(sectors / (AudioDisc.SectorsPerSecond * SpeedNow)));
    }
}
