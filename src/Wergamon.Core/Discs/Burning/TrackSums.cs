using System.IO.Hashing;

namespace Wergamon.Core.Discs.Burning;

/// <summary>
/// Checksums of the tracks of a disc while it is written, as a drive reads them: CRC-32 (ISO 3309) over the bytes of each span.
/// </summary>
/// <param name="spans">One after the other from sector 0 to the end of the disc.</param>
public sealed class TrackSums(IReadOnlyList<TrackSpan> spans)
{
    private readonly Crc32 _sum = new();
    private readonly List<uint> _sums = [];
    private long _left = spans.Count > 0 ? BytesOf(spans[0]) : 0;

    /// <summary>The sums of the spans that are complete.</summary>
    public IReadOnlyList<uint> Sums => _sums;

    public void Append(ReadOnlySpan<byte> bytes)
    {
        while (bytes.Length > 0 && _sums.Count < spans.Count)
        {
            int some = (int)Math.Min(_left, bytes.Length);
            _sum.Append(bytes[..some]);
            bytes = bytes[some..];
            _left -= some;
            if (_left > 0)
                continue;
            _sums.Add(_sum.GetCurrentHashAsUInt32());
            _sum.Reset();
            _left = _sums.Count < spans.Count ? BytesOf(spans[_sums.Count]) : 0;
        }
    }

    private static long BytesOf(TrackSpan span) => (long)span.Sectors * AudioDisc.BytesPerSector;
}
