using Wergamon.Core.Bytes;

namespace Wergamon.Worker;

/// <summary>A new file that can be read from front to back while it is still being written.</summary>
internal sealed class GrowingFile : IDisposable
{
    /// <summary>Data is flushed in pieces of this size, so that little is left to flush at the end.</summary>
    private const int FlushEvery = 4 << 20;

    // Unbuffered, so that followers see what has been written.
    private readonly FileStream _file;
    private readonly object _gate = new();
    private Task _flushing = Task.CompletedTask;
    private long _written;

    /// <summary>Length that the file has to reach before the follower can continue.</summary>
    private long _awaited = long.MaxValue;
    private long _notFlushed;
    private bool _ended;

    /// <exception cref="IOException">The path exists already.</exception>
    public GrowingFile(string path)
    {
        _file = PlainFile.Open(path, FileMode.CreateNew, FileAccess.ReadWrite, bufferSize: 0);
        Writing = new WritingEnd(this);
    }

    /// <summary>The writer's stream; closing it ends the growth and leaves the file open.</summary>
    public Stream Writing { get; }

    /// <summary>A follower's stream: gives every byte once it is written, and ends when the writing has ended.</summary>
    public Stream Follow() => new Follower(this);

    /// <summary>Ends the growth, whether the file is complete or writing it failed.</summary>
    public void End()
    {
        lock (_gate)
        {
            _ended = true;
            Monitor.PulseAll(_gate);
        }
    }

    /// <summary>Waits for the pending flush; a disk error surfaces here.</summary>
    public void EndFlushing() => _flushing.GetAwaiter().GetResult();

    /// <summary>Only once no follower is left.</summary>
    public void Dispose()
    {
        Task.WhenAny(_flushing).Wait();
        _file.Dispose();
    }

    private void Write(ReadOnlySpan<byte> data)
    {
        // Whole writes only: a header must not be seen half updated.
        lock (_gate)
        {
            _file.Write(data);
            _written = Math.Max(_written, _file.Position);
            if (_written >= _awaited)
                Monitor.PulseAll(_gate);
        }

        _notFlushed += data.Length;
        if (_notFlushed >= FlushEvery && _flushing.IsCompleted)
        {
            _notFlushed = 0;
            _flushing = Task.Run(() => RandomAccess.FlushToDisk(_file.SafeFileHandle));
        }
    }

    /// <summary>Fills the whole buffer except at the end: waking for every packet would be costly.</summary>
    private int ReadWhenThere(long position, Span<byte> data)
    {
        lock (_gate)
        {
            _awaited = position + data.Length;
            while (!_ended && _written < _awaited)
                Monitor.Wait(_gate);
            _awaited = long.MaxValue;
            return RandomAccess.Read(_file.SafeFileHandle, data, position);
        }
    }

    private sealed class WritingEnd(GrowingFile file) : Stream
    {
        public override bool CanRead => true;

        public override bool CanSeek => true;

        public override bool CanWrite => true;

        public override long Length => file._file.Length;

        public override long Position
        {
            get => file._file.Position;
            set => file._file.Position = value;
        }

        public override int Read(Span<byte> buffer) => file._file.Read(buffer);

        public override int Read(byte[] buffer, int offset, int count) => file._file.Read(buffer, offset, count);

        public override void Write(ReadOnlySpan<byte> buffer) => file.Write(buffer);

        public override void Write(byte[] buffer, int offset, int count) => file.Write(buffer.AsSpan(offset, count));

        public override long Seek(long offset, SeekOrigin origin) => file._file.Seek(offset, origin);

        public override void SetLength(long value) => file._file.SetLength(value);

        public override void Flush()
        {
        }

        protected override void Dispose(bool disposing)
        {
            if (disposing)
                file.End();
            base.Dispose(disposing);
        }
    }

    private sealed class Follower(GrowingFile file) : ReadOnlyStream
    {
        public override bool CanSeek => false;

        public override long Length => throw new NotSupportedException("How long a growing file will be is not known.");

        public override int Read(Span<byte> buffer)
        {
            int got = file.ReadWhenThere(Position, buffer);
            Position += got;
            return got;
        }
    }
}
