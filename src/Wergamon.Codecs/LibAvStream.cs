using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;

using static Wergamon.Codecs.LibAv;
using Layout = Wergamon.Codecs.LibAvLayout;

namespace Wergamon.Codecs;

/// <summary>A .NET stream for libav to read or write, from its current position.</summary>
internal sealed unsafe class LibAvStream : IDisposable
{
    private const int BufferSize = 64 * 1024;

    private readonly Target _target;
    private GCHandle _handle;
    private nint _context;

    /// <param name="stream">Stays open. One that cannot seek is read from front to back.</param>
    /// <param name="forWriting">Written by libav; read by it otherwise.</param>
    public LibAvStream(Stream stream, bool forWriting)
    {
        _target = new Target(stream);
        _handle = GCHandle.Alloc(_target);
        _context = avio_alloc_context(
            (byte*)av_malloc(BufferSize), BufferSize, forWriting ? 1 : 0, GCHandle.ToIntPtr(_handle),
            forWriting ? null : &OnRead, forWriting ? &OnWrite : null, stream.CanSeek ? &OnSeek : null);
    }

    /// <summary>The AVIOContext that containers of libav take.</summary>
    public nint Context => _context;

    /// <summary>An exception of the stream is rethrown as it was, not as libav's error code.</summary>
    public void ThrowFailure()
    {
        if (_target.Failure is { } failure)
            throw new IOException(failure.Message, failure);
    }

    public void Dispose()
    {
        if (_context != 0)
        {
            // libav may have replaced the buffer by a larger one; the one in use now is freed.
            av_free((void*)Field<nint>(_context, Layout.IoContext.Buffer));
            fixed (nint* context = &_context)
                avio_context_free(context);
        }

        if (_handle.IsAllocated)
            _handle.Free();
    }

    [UnmanagedCallersOnly(CallConvs = [typeof(CallConvCdecl)])]
    private static int OnRead(nint opaque, byte* data, int length) => TargetOf(opaque).Read(new Span<byte>(data, length));

    [UnmanagedCallersOnly(CallConvs = [typeof(CallConvCdecl)])]
    private static int OnWrite(nint opaque, byte* data, int length) => TargetOf(opaque).Write(new ReadOnlySpan<byte>(data, length));

    [UnmanagedCallersOnly(CallConvs = [typeof(CallConvCdecl)])]
    private static long OnSeek(nint opaque, long offset, int whence) =>
        whence == SeekSize ? TargetOf(opaque).Length : TargetOf(opaque).Seek(offset, whence);

    private static Target TargetOf(nint opaque) => (Target)GCHandle.FromIntPtr(opaque).Target!;

    /// <summary>Callbacks for libav. No exception may leave them, since native code calls.</summary>
    private sealed class Target(Stream stream)
    {
        private readonly long _origin = stream.CanSeek ? stream.Position : 0;

        public Exception? Failure { get; private set; }

        public long Length => stream.Length - _origin;

        public int Read(Span<byte> data)
        {
            try
            {
                return stream.Read(data) is > 0 and var got ? got : ErrorEndOfFile;
            }
            catch (Exception failure) when (IsOfDisk(failure))
            {
                Failure = failure;
                return ErrorIo;
            }
        }

        public int Write(ReadOnlySpan<byte> data)
        {
            try
            {
                stream.Write(data);
                return data.Length;
            }
            catch (Exception failure) when (IsOfDisk(failure))
            {
                Failure = failure;
                return ErrorIo;
            }
        }

        public long Seek(long offset, int whence)
        {
            long position = whence switch
            {
                0 => _origin + offset,
                1 => stream.Position + offset,
                _ => stream.Length + offset,
            };
            if (position < _origin)
                return ErrorIo;
            stream.Position = position;
            return position - _origin;
        }

        private static bool IsOfDisk(Exception failure) => failure is IOException or UnauthorizedAccessException or ObjectDisposedException;
    }
}
