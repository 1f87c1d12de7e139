using System.Runtime.InteropServices;
using Wergamon.Core.Audio;

using static Wergamon.Codecs.LibAv;
using Layout = Wergamon.Codecs.LibAvLayout;

namespace Wergamon.Codecs;

/// <summary>A file that libav has opened, and its stream of sound.</summary>
internal sealed unsafe class LibAvInput : IDisposable
{
    private readonly LibAvStream? _stream;
    private readonly int _streamIndex;
    private nint _context;

    /// <param name="path">A file on this machine.</param>
    /// <exception cref="UnreadableAudioException">It holds no sound.</exception>
    public LibAvInput(string path) : this("file:" + path, null)
    {
    }

    /// <param name="stream">Stays open. One that cannot seek is read from front to back.</param>
    /// <exception cref="UnreadableAudioException">It holds no sound.</exception>
    public LibAvInput(Stream stream) : this("", new LibAvStream(stream, forWriting: false))
    {
    }

    private LibAvInput(string address, LibAvStream? stream)
    {
        _stream = stream;
        try
        {
            _context = Open(address, stream);
            _streamIndex = FindSound(_context);
        }
        catch
        {
            Dispose();
            throw;
        }
    }

    /// <summary>The AVFormatContext.</summary>
    public nint Context => _context;

    /// <summary>The AVStream of the sound.</summary>
    public nint Stream => (*(nint**)(_context + Layout.FormatContext.Streams))[_streamIndex];

    /// <summary>Its AVCodecParameters.</summary>
    public nint Parameters => Field<nint>(Stream, Layout.Stream.CodecParameters);

    /// <summary>The codec's short name in lower case: "mp3", "aac", "flac".</summary>
    public string CodecName => Marshal.PtrToStringUTF8(avcodec_get_name(Field<int>(Parameters, Layout.CodecParameters.CodecId))) ?? "unknown";

    /// <summary>Reads the next packet of the sound; libav's error code at the end.</summary>
    public int ReadPacket(nint packet)
    {
        while (true)
        {
            int result = av_read_frame(_context, packet);
            if (result < 0 || Field<int>(packet, Layout.Packet.StreamIndex) == _streamIndex)
                return result;
            av_packet_unref(packet);
        }
    }

    public void Dispose()
    {
        fixed (nint* context = &_context)
        {
            if (_context != 0)
                avformat_close_input(context);
        }

        _stream?.Dispose();
    }

    private static nint Open(string address, LibAvStream? stream)
    {
        nint context = 0, options = 0;
        if (stream != null)
        {
            context = avformat_alloc_context();
            Field<nint>(context, Layout.FormatContext.Pb) = stream.Context;
        }

        // Only files: a playlist or a redirecting container must not reach anything else.
        av_dict_set(&options, "protocol_whitelist", "file", 0);
        int result = avformat_open_input(&context, address, 0, &options);
        av_dict_free(&options);
        if (result < 0)
            throw new UnreadableAudioException($"The file cannot be opened as sound: {Describe(result)}.");
        result = avformat_find_stream_info(context, null);
        if (result >= 0)
            return context;
        avformat_close_input(&context);
        throw new UnreadableAudioException($"The file cannot be understood: {Describe(result)}.");
    }

    private static int FindSound(nint format)
    {
        int index = av_find_best_stream(format, MediaTypeAudio, -1, -1, null, 0);
        return index >= 0 ? index : throw new UnreadableAudioException("There is no sound in this file.");
    }
}
