namespace Wergamon.Core.Bytes;

/// <summary>Base of seekable read-only streams over other data.</summary>
public abstract class ReadOnlyStream : Stream
{
    private long _position;

    public sealed override bool CanRead => true;

    public override bool CanSeek => true;

    public sealed override bool CanWrite => false;

    public sealed override long Position
    {
        get => _position;
        set
        {
            ArgumentOutOfRangeException.ThrowIfNegative(value);
            _position = value;
        }
    }

    public abstract override int Read(Span<byte> buffer);

    public sealed override int Read(byte[] buffer, int offset, int count) => Read(buffer.AsSpan(offset, count));

    public sealed override long Seek(long offset, SeekOrigin origin) => Position = origin switch
    {
        SeekOrigin.Begin => offset,
        SeekOrigin.Current => _position + offset,
        _ => Length + offset,
    };

    public sealed override void Flush() { }

    public sealed override void SetLength(long value) => throw new NotSupportedException();

    public sealed override void Write(byte[] buffer, int offset, int count) => throw new NotSupportedException();
}
