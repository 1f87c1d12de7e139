using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using static Wergamon.Codecs.LibAv;
using Layout = Wergamon.Codecs.LibAvLayout;

namespace Wergamon.Codecs;

/// <summary>A container of libav written into a .NET stream, from the position where that stream stands.</summary>
internal sealed unsafe class LibAvOutput : IDisposable
{
    private const int BufferSize = 64 * 1024;

    private readonly Target _target;
    private readonly AvRational _packetTime;
    private GCHandle _handle;
    private nint _context;
    private nint _io;
    private nint _streamInContainer;

    /// <param name="stream">Seekable; not owned.</param>
    /// <param name="container">The name of the container in libav.</param>
    /// <param name="encoder">The encoder whose packets will come.</param>
    /// <param name="options">Names and values as the container knows them.</param>
    public LibAvOutput(Stream stream, string container, LibAvEncoder encoder, IReadOnlyDictionary<string, string> options)
    {
        _target = new Target(stream);
        _handle = GCHandle.Alloc(_target);
        _packetTime = encoder.TimeBase;
        _io = avio_alloc_context((byte*)av_malloc(BufferSize), BufferSize, 1, GCHandle.ToIntPtr(_handle), null, &OnWrite, &OnSeek);
        fixed (nint* context = &_context)
            Check(avformat_alloc_output_context2(context, 0, container, null), $"Making a {container} file");
        Field<nint>(_context, Layout.FormatContext.Pb) = _io;
        _streamInContainer = avformat_new_stream(_context, 0);
        Check(avcodec_parameters_from_context(Field<nint>(_streamInContainer, Layout.Stream.CodecParameters), encoder.Context), "Describing the sound");
        Field<AvRational>(_streamInContainer, Layout.Stream.TimeBase) = encoder.TimeBase;

        nint dictionary = 0;
        foreach (var (name, value) in options)
            Check(av_dict_set(&dictionary, name, value, 0), "Setting an option");
        int result = avformat_write_header(_context, &dictionary);
        av_dict_free(&dictionary);
        CheckWriting(result);
    }

    public void Write(nint packet)
    {
        av_packet_rescale_ts(packet, _packetTime, Field<AvRational>(_streamInContainer, Layout.Stream.TimeBase));
        Field<int>(packet, Layout.Packet.StreamIndex) = 0;
        CheckWriting(av_write_frame(_context, packet));
    }

    public void Complete()
    {
        CheckWriting(av_write_trailer(_context));
        avio_flush(_io);
        CheckWriting(0);
    }

    public void Dispose()
    {
        if (_context != 0)
            avformat_free_context(_context);
        if (_io != 0)
        {
            // libav may have replaced the buffer by a larger one; the one in use now is freed.
            av_free((void*)Field<nint>(_io, Layout.IoContext.Buffer));
            fixed (nint* io = &_io)
                avio_context_free(io);
        }

        _context = 0;
        if (_handle.IsAllocated)
            _handle.Free();
    }

    /// <summary>A failure of the disk is told as itself and not as what libav makes of it.</summary>
    private void CheckWriting(int result)
    {
        if (_target.Failure is { } failure)
            throw new IOException(failure.Message, failure);
        Check(result, "Writing the file");
    }

    [UnmanagedCallersOnly(CallConvs = [typeof(CallConvCdecl)])]
    private static int OnWrite(nint opaque, byte* data, int length)
    {
        var target = (Target)GCHandle.FromIntPtr(opaque).Target!;
        return target.Write(new ReadOnlySpan<byte>(data, length)) ? length : ErrorIo;
    }

    [UnmanagedCallersOnly(CallConvs = [typeof(CallConvCdecl)])]
    private static long OnSeek(nint opaque, long offset, int whence)
    {
        var target = (Target)GCHandle.FromIntPtr(opaque).Target!;
        return whence == SeekSize ? target.Length : target.Seek(offset, whence);
    }

    /// <summary>The part of the stream that the container sees; no exception leaves it, since native code calls.</summary>
    private sealed class Target(Stream stream)
    {
        private readonly long _origin = stream.Position;

        public Exception? Failure { get; private set; }

        public long Length => stream.Length - _origin;

        public bool Write(ReadOnlySpan<byte> data)
        {
            try
            {
                stream.Write(data);
                return true;
            }
            catch (Exception failure) when (failure is IOException or UnauthorizedAccessException or ObjectDisposedException)
            {
                Failure = failure;
                return false;
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
    }
}
