using Wergamon.Core.Discs;

namespace Wergamon.Devices.Drives;

/// <summary>A drive's cache: the last sectors it delivered, as it delivered them.</summary>
internal sealed class SectorCache(int sectors)
{
    private readonly byte[] _bytes = new byte[sectors * AudioDisc.BytesPerSector];
    private readonly int[] _sectorAt = [.. Enumerable.Repeat(-1, sectors)];
    private readonly Dictionary<int, int> _places = [];
    private int _next;

    /// <summary>Answers a read from the cache if all of it is there.</summary>
    public bool TryRead(int firstSector, Span<byte> into)
    {
        int count = into.Length / AudioDisc.BytesPerSector;
        for (int i = 0; i < count; i++)
        {
            if (!_places.ContainsKey(firstSector + i))
                return false;
        }

        for (int i = 0; i < count; i++)
            _bytes.AsSpan(_places[firstSector + i] * AudioDisc.BytesPerSector, AudioDisc.BytesPerSector)
                .CopyTo(into[(i * AudioDisc.BytesPerSector)..]);
        return true;
    }

    public void Keep(int firstSector, ReadOnlySpan<byte> delivered)
    {
        if (sectors == 0)
            return;
        for (; !delivered.IsEmpty; delivered = delivered[AudioDisc.BytesPerSector..], firstSector++)
        {
            // A sector that is read again becomes the newest, and its older bytes are dropped.
            if (_places.Remove(firstSector, out int old))
                _sectorAt[old] = -1;
            if (_sectorAt[_next] >= 0)
                _places.Remove(_sectorAt[_next]);
            delivered[..AudioDisc.BytesPerSector].CopyTo(_bytes.AsSpan(_next * AudioDisc.BytesPerSector));
            _sectorAt[_next] = firstSector;
            _places[firstSector] = _next;
            _next = (_next + 1) % sectors;
        }
    }

    public void Forget()
    {
        _places.Clear();
        Array.Fill(_sectorAt, -1);
    }
}
