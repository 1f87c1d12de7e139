namespace Wergamon.Core.Bytes;

/// <summary>A part of another stream, read as if it were a file of its own. The other stream stays open.</summary>
public sealed class PartStream(Stream source, long offset, long length) : ReadOnlyStream
{
    public override long Length => length;

    public override int Read(Span<byte> buffer)
    {
        if (Position >= length)
            return 0;
        source.Position = offset + Position;
        int got = source.Read(buffer[..(int)Math.Min(buffer.Length, length - Position)]);
        Position += got;
        return got;
    }
}
