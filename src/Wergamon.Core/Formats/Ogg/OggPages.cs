using System.Buffers;
using System.Buffers.Binary;
using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;

namespace Wergamon.Core.Formats.Ogg;

/// <summary>
/// The pages of an Ogg file (RFC 3533, section 6): its first packets and the position that its last page states. The memory of the packets
/// is used again after disposal.
/// </summary>
internal sealed class OggPages : IDisposable
{
    internal const int HeaderLength = 27;
    private const int MaxSegments = 255;
    private const int LongestPage = HeaderLength + MaxSegments + MaxSegments * 255;

    /// <summary>The last page of a stream is looked for this far before the end.</summary>
    private const int TailLength = 4 * LongestPage;

    private readonly Stream _stream;
    private readonly byte[] _header = new byte[HeaderLength + MaxSegments];
    // The packets in sequence, and where each ends.
    private readonly List<int> _ends = [];
    private byte[] _packets = ArrayPool<byte>.Shared.Rent(4 * LongestPage);
    private int _filled;
    private int _asked;
    private long _at;
    private uint _serial;

    private OggPages(Stream stream) => _stream = stream;

    /// <summary>Offset of the page after the first packets, where the audio starts.</summary>
    public long Offset => _at;

    /// <summary>The number of the stream, once its first page was read.</summary>
    public uint Serial => _serial;

    /// <summary>True when the packets read so far end with a page, so that what follows is on pages of its own.</summary>
    public bool EndsOnPage => _ends.Count > 0 && _ends[^1] == _filled && _ends.Count == _asked;

    /// <summary>The number of the page after those read so far.</summary>
    public uint NextSequence { get; private set; }

    internal static uint SerialOf(ReadOnlySpan<byte> page) => BinaryPrimitives.ReadUInt32LittleEndian(page[14..]);

    /// <summary>Gives a page another number, and the checksum that follows from it.</summary>
    internal static void Number(Span<byte> page, uint sequence)
    {
        BinaryPrimitives.WriteUInt32LittleEndian(page[18..], sequence);
        page.Slice(22, 4).Clear();
        BinaryPrimitives.WriteUInt32LittleEndian(page[22..], OggCrc.Append(0, page));
    }

    /// <summary>The pages read so far with other packets of the same lengths.</summary>
    public byte[] Refill(IReadOnlyList<ReadOnlyMemory<byte>> packets)
    {
        var pages = new byte[_at];
        _stream.Position = 0;
        _stream.ReadExactly(pages);
        var content = new byte[packets.Sum(packet => packet.Length)];
        int taken = 0;
        foreach (var packet in packets)
        {
            packet.CopyTo(content.AsMemory(taken));
            taken += packet.Length;
        }

        taken = 0;
        for (int at = 0; at < pages.Length;)
        {
            int head = HeaderLength + pages[at + 26], body = 0;
            foreach (byte lace in pages.AsSpan(at + HeaderLength, pages[at + 26]))
                body += lace;
            if (SerialOf(pages.AsSpan(at)) == _serial)
            {
                var page = pages.AsSpan(at, head + body);
                var now = content.AsSpan(taken, body);
                taken += body;
                if (!now.SequenceEqual(page[head..]))
                {
                    now.CopyTo(page[head..]);
                    Number(page, BinaryPrimitives.ReadUInt32LittleEndian(page[18..]));
                }
            }

            at += head + body;
        }

        return pages;
    }

    /// <summary>The pages behind those read so far, whole; the memory is good until the next one.</summary>
    /// <exception cref="UnreadableAudioException">What follows is no page.</exception>
    public IEnumerable<Memory<byte>> Rest()
    {
        var page = new byte[LongestPage];
        for (long at = _at; at < _stream.Length;)
        {
            int length = ReadWhole(at, page)
                ?? throw new UnreadableAudioException("The file is damaged: its pages are not in one piece, or the last is cut off.");
            at += length;
            yield return page.AsMemory(0, length);
        }
    }

    /// <summary>Reads a page with its header and returns its length; null where there is none.</summary>
    private int? ReadWhole(long at, byte[] page)
    {
        _stream.Position = at;
        if (!_stream.TryReadWhole(page.AsSpan(0, HeaderLength)) || !page.AsSpan().StartsWith("OggS"u8)
            || !_stream.TryReadWhole(page.AsSpan(HeaderLength, page[26])))
            return null;
        int head = HeaderLength + page[26], body = 0;
        foreach (byte lace in page.AsSpan(HeaderLength, page[26]))
            body += lace;
        return _stream.TryReadWhole(page.AsSpan(head, body)) ? head + body : null;
    }

    /// <summary>The position at which the first page of audio starts, by the packets on it; null where it cannot be told.</summary>
    /// <param name="framesOf">How long a packet plays.</param>
    public long? FirstPosition(Func<ReadOnlyMemory<byte>, int> framesOf)
    {
        var page = new byte[LongestPage];
        if (ReadWhole(_at, page) is null)
            return null;
        long end = BinaryPrimitives.ReadInt64LittleEndian(page.AsSpan(6));
        bool isContinued = (page[5] & 1) != 0, isLast = (page[5] & 4) != 0;
        if (end < 0 || isContinued || isLast || BinaryPrimitives.ReadUInt32LittleEndian(page.AsSpan(14)) != _serial)
            return null;
        int from = HeaderLength + page[26], at = from;
        foreach (byte lace in page.AsSpan(HeaderLength, page[26]))
        {
            at += lace;
            if (lace == 255)
                continue;
            end -= framesOf(page.AsMemory(from..at));
            from = at;
        }

        return end;
    }

    /// <summary>Null where the file does not start with a page of Ogg.</summary>
    public static OggPages? Open(Stream stream)
    {
        Span<byte> start = stackalloc byte[4];
        stream.Position = 0;
        return stream.TryReadWhole(start) && start.SequenceEqual("OggS"u8) ? new OggPages(stream) : null;
    }

    /// <summary>
    /// The packets that the file starts with, as many as are asked for; fewer where it is cut off or too much is claimed.
    /// </summary>
    public IReadOnlyList<ReadOnlyMemory<byte>> FirstPackets(int count)
    {
        _asked = Math.Max(_asked, count);
        for (int page = 0; page < Limits.MaxParts && _ends.Count < count && _filled < Limits.MaxBlock; page++)
        {
            if (!ReadPage())
                break;
        }

        return [.. _ends.Take(count).Select((end, i) => (ReadOnlyMemory<byte>)_packets.AsMemory((i == 0 ? 0 : _ends[i - 1])..end))];
    }

    /// <summary>Adds what a page holds to the packets; false where none can be read any more.</summary>
    private bool ReadPage()
    {
        _stream.Position = _at;
        if (!_stream.TryReadWhole(_header.AsSpan(0, HeaderLength)) || !_header.AsSpan().StartsWith("OggS"u8))
            return false;
        int segments = _header[26];
        if (!_stream.TryReadWhole(_header.AsSpan(HeaderLength, segments)))
            return false;
        uint serial = BinaryPrimitives.ReadUInt32LittleEndian(_header.AsSpan(14));
        if (_at == 0)
            _serial = serial;
        int length = 0;
        foreach (byte lace in _header.AsSpan(HeaderLength, segments))
            length += lace;
        _at += HeaderLength + segments + length;
        if (serial == _serial)
            NextSequence = BinaryPrimitives.ReadUInt32LittleEndian(_header.AsSpan(18)) + 1;
        // Pages of other streams may be interleaved, a picture track for example.
        if (serial != _serial)
            return true;
        if (_filled + length > _packets.Length)
            Grow(_filled + length);
        if (!_stream.TryReadWhole(_packets.AsSpan(_filled, length)))
            return false;
        foreach (byte lace in _header.AsSpan(HeaderLength, segments))
        {
            _filled += lace;
            if (lace < 255)
                _ends.Add(_filled);
        }

        return true;
    }

    private void Grow(int least)
    {
        var larger = ArrayPool<byte>.Shared.Rent(Math.Max(2 * _packets.Length, least));
        _packets.AsSpan(0, _filled).CopyTo(larger);
        ArrayPool<byte>.Shared.Return(_packets);
        _packets = larger;
    }

    public void Dispose()
    {
        if (_packets.Length > 0)
            ArrayPool<byte>.Shared.Return(_packets);
        _packets = [];
    }

    /// <summary>
    /// The position that the last page of the stream states, in the units of its codec; null where it is not found or another stream
    /// follows.
    /// </summary>
    public long? LastPosition()
    {
        int length = (int)Math.Min(TailLength, _stream.Length);
        for (int take = Math.Min(length, LongestPage / 4); ; take = length)
        {
            _stream.Position = _stream.Length - take;
            if (_stream.TryReadBlock(take) is not { } tail)
                return null;
            for (int at = tail.AsSpan().LastIndexOf("OggS"u8); at >= 0; at = tail.AsSpan(0, at).LastIndexOf("OggS"u8))
            {
                if (at + HeaderLength > tail.Length || tail[at + 4] != 0)
                    continue;
                if (BinaryPrimitives.ReadUInt32LittleEndian(tail.AsSpan(at + 14)) != _serial)
                    return null;
                if (BinaryPrimitives.ReadInt64LittleEndian(tail.AsSpan(at + 6)) is >= 0 and var position)
                    return position;
            }

            if (take == length)
                return null;
        }
    }
}
