namespace Wergamon.Core.Formats.Mp4;

/// <summary>
/// Where the packets of a stream are and how long each plays (ISO/IEC 14496-12, 8.6.1, 8.7). Packets are added in order, without gaps.
/// </summary>
internal sealed class Mp4SampleTable
{
    private readonly List<uint> _sizes = [];
    private readonly List<(uint Count, uint Frames)> _times = [];
    private readonly List<(long Offset, uint Packets)> _chunks = [];
    private long _chunkFrames;
    private long _bytes;
    private uint _largest;
    private double _maxBytesPerFrame;

    /// <summary>Samples of one channel in all packets.</summary>
    public long Frames { get; private set; }

    public void Add(long offset, int length, long frames, int rate)
    {
        _sizes.Add((uint)length);
        if (_times.Count > 0 && _times[^1].Frames == frames)
            _times[^1] = (_times[^1].Count + 1, (uint)frames);
        else
            _times.Add((1, (uint)frames));
        // A chunk holds a second.
        if (_chunks.Count == 0 || _chunkFrames >= rate)
        {
            _chunks.Add((offset, 0));
            _chunkFrames = 0;
        }

        _chunks[^1] = (_chunks[^1].Offset, _chunks[^1].Packets + 1);
        _chunkFrames += frames;
        Frames += frames;
        _bytes += length;
        _largest = Math.Max(_largest, (uint)length);
        if (frames > 0)
            _maxBytesPerFrame = Math.Max(_maxBytesPerFrame, (double)length / frames);
    }

    public Mp4Bitrates BitratesAt(int rate) =>
        new((uint)(_bytes * 8.0 * rate / Math.Max(1, Frames)), (uint)(_maxBytesPerFrame * 8 * rate), _largest);

    public void Write(BoxWriter boxes)
    {
        using (boxes.OpenFull("stts"u8))
        {
            boxes.UInt32((uint)_times.Count);
            foreach (var (count, frames) in _times)
            {
                boxes.UInt32(count);
                boxes.UInt32(frames);
            }
        }

        using (boxes.OpenFull("stsc"u8))
        {
            var runs = _chunks.Select((chunk, i) => (chunk.Packets, Number: (uint)i + 1))
                .Where((run, i) => i == 0 || run.Packets != _chunks[i - 1].Packets)
                .ToList();
            boxes.UInt32((uint)runs.Count);
            foreach (var (packets, number) in runs)
            {
                boxes.UInt32(number);
                boxes.UInt32(packets);
                boxes.UInt32(1);
            }
        }

        using (boxes.OpenFull("stsz"u8))
        {
            boxes.UInt32(0);
            boxes.UInt32((uint)_sizes.Count);
            foreach (uint size in _sizes)
                boxes.UInt32(size);
        }

        bool isLong = _chunks.Count > 0 && _chunks[^1].Offset > uint.MaxValue;
        using (boxes.OpenFull(isLong ? "co64"u8 : "stco"u8))
        {
            boxes.UInt32((uint)_chunks.Count);
            foreach (var (offset, _) in _chunks)
                boxes.Sized(offset, isLong ? 1 : 0);
        }
    }
}
