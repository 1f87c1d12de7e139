using Wergamon.Core.Bytes;

namespace Wergamon.Core.Discs;

/// <summary>The contents of a data track, 2,048 bytes a sector, as one stream. The image stays open.</summary>
public sealed class DataTrackStream(DiscImage image, DiscTrack track) : ReadOnlyStream
{
    private readonly byte[] _sector = new byte[AudioDisc.BytesPerSector];
    private int _loaded = -1;

    public override long Length { get; } = (long)image.Contents.LengthOf(track) * DataSectors.DataLength;

    public override int Read(Span<byte> buffer)
    {
        int done = 0;
        while (done < buffer.Length && Position < Length)
        {
            int sector = (int)(Position / DataSectors.DataLength), within = (int)(Position % DataSectors.DataLength);
            if (sector != _loaded)
                image.Read(track.Start + sector, _sector);
            _loaded = sector;
            int count = Math.Min(buffer.Length - done, DataSectors.DataLength - within);
            DataSectors.DataOf(_sector).Slice(within, count).CopyTo(buffer[done..]);
            done += count;
            Position += count;
        }

        return done;
    }
}
