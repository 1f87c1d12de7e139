namespace Wergamon.Core.Audio;

/// <summary>A part of another stream, to be read as if it were a file of its own. The other stream is not closed with it.</summary>
public sealed class PartStream(Stream source, long offset, long length) : Stream
{
    private long _position;

    public override bool CanRead => true;

    public override bool CanSeek => true;

    public override bool CanWrite => false;

    public override long Length => length;

    public override long Position
    {
        get => _position;
        set
        {
            ArgumentOutOfRangeException.ThrowIfNegative(value);
            _position = value;
        }
    }

    public override int Read(Span<byte> buffer)
    {
        if (_position >= length)
            return 0;
        source.Position = offset + _position;
        int got = source.Read(buffer[..(int)Math.Min(buffer.Length, length - _position)]);
        _position += got;
        return got;
    }

    public override int Read(byte[] buffer, int offset, int count) => Read(buffer.AsSpan(offset, count));

    public override long Seek(long offset, SeekOrigin origin) => Position = origin switch
    {
        SeekOrigin.Begin => offset,
        SeekOrigin.Current => _position + offset,
        _ => length + offset,
    };

    public override void Flush() { }

    public override void SetLength(long value) => throw new NotSupportedException();

    public override void Write(byte[] buffer, int offset, int count) => throw new NotSupportedException();
}
