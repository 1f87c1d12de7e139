using System.Buffers.Binary;

namespace Wergamon.Core.Formats.Ogg;

/// <summary>Puts packets into pages (RFC 3533, section 6).</summary>
internal sealed class OggPageWriter(Stream stream, uint serial)
{
    public const int HeaderLength = 27;
    private const int MaxSegments = 255;
    private const int FullSegment = 255;

    private readonly byte[] _page = new byte[HeaderLength + MaxSegments + MaxSegments * FullSegment];
    private readonly byte[] _laces = new byte[MaxSegments];
    private readonly byte[] _body = new byte[MaxSegments * FullSegment];
    private int _laceCount;
    private int _length;
    private long _position = -1;
    private bool _continues;

    /// <summary>Number of the next page.</summary>
    public uint Sequence { get; private set; }

    /// <summary>Bytes of packets on the page that is being filled.</summary>
    public int Length => _length;

    /// <summary>Appends a packet; full pages are written.</summary>
    /// <param name="position">The granule position at the end of the packet.</param>
    public void Write(ReadOnlySpan<byte> packet, long position)
    {
        for (bool isWhole = false; !isWhole;)
        {
            if (_laceCount == MaxSegments)
                Flush(isLast: false);
            int take = Math.Min(FullSegment, packet.Length);
            isWhole = take < FullSegment;
            _laces[_laceCount++] = (byte)take;
            packet[..take].CopyTo(_body.AsSpan(_length));
            _length += take;
            packet = packet[take..];
        }

        _position = position;
    }

    /// <summary>Writes the page with what it holds so far.</summary>
    public void Flush(bool isLast)
    {
        if (_laceCount == 0 && !isLast)
            return;
        int headLength = HeaderLength + _laceCount;
        var page = _page.AsSpan(0, headLength + _length);
        page[..HeaderLength].Clear();
        "OggS"u8.CopyTo(page);
        page[5] = (byte)((_continues ? 1 : 0) | (Sequence == 0 ? 2 : 0) | (isLast ? 4 : 0));
        BinaryPrimitives.WriteInt64LittleEndian(page[6..], _position);
        BinaryPrimitives.WriteUInt32LittleEndian(page[14..], serial);
        BinaryPrimitives.WriteUInt32LittleEndian(page[18..], Sequence++);
        page[26] = (byte)_laceCount;
        _laces.AsSpan(0, _laceCount).CopyTo(page[HeaderLength..]);
        _body.AsSpan(0, _length).CopyTo(page[headLength..]);
        BinaryPrimitives.WriteUInt32LittleEndian(page[22..], OggCrc.Append(0, page));
        stream.Write(page);
        _continues = _laceCount > 0 && _laces[_laceCount - 1] == FullSegment;
        _laceCount = _length = 0;
        _position = -1;
    }
}
