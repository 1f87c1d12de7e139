namespace Wergamon.Core.Discs;

/// <summary>The data of a data track, 2,048 bytes a sector, as one stream. The image is not closed with it.</summary>
public sealed class DataTrackStream(DiscImage image, DiscTrack track) : Stream
{
    private readonly byte[] _sector = new byte[AudioDisc.BytesPerSector];
    private readonly Lock _lock = new();
    private int _loaded = -1;

    public override bool CanRead => true;

    public override bool CanSeek => true;

    public override bool CanWrite => false;

    public override long Length { get; } = (long)image.Contents.LengthOf(track) * DataSectors.DataLength;

    public override long Position { get; set; }

    public override int Read(Span<byte> buffer)
    {
        lock (_lock)
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

    public override int Read(byte[] buffer, int offset, int count) => Read(buffer.AsSpan(offset, count));

    public override long Seek(long offset, SeekOrigin origin) => Position = origin switch
    {
        SeekOrigin.Begin => offset,
        SeekOrigin.Current => Position + offset,
        _ => Length + offset,
    };

    public override void Flush() { }

    public override void SetLength(long value) => throw new NotSupportedException();

    public override void Write(byte[] buffer, int offset, int count) => throw new NotSupportedException();
}
