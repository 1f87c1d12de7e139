using static Wergamon.Codecs.LibAv;
using Layout = Wergamon.Codecs.LibAvLayout;

namespace Wergamon.Codecs;

/// <summary>A libav container written to a .NET stream from its current position.</summary>
internal sealed unsafe class LibAvOutput : IDisposable
{
    private readonly LibAvStream _stream;
    private readonly AvRational _packetTime;
    private nint _context;
    private nint _streamInContainer;

    /// <param name="stream">Seekable; not owned.</param>
    /// <param name="container">The name of the container in libav.</param>
    /// <param name="encoder">The encoder whose packets it takes.</param>
    /// <param name="options">Names and values of its options in libav.</param>
    public LibAvOutput(Stream stream, string container, LibAvEncoder encoder, IReadOnlyDictionary<string, string> options)
    {
        _stream = new LibAvStream(stream, forWriting: true);
        _packetTime = encoder.TimeBase;
        fixed (nint* context = &_context)
            Check(avformat_alloc_output_context2(context, 0, container, null), $"Making a {container} file");
        Field<nint>(_context, Layout.FormatContext.Pb) = _stream.Context;
        _streamInContainer = avformat_new_stream(_context, 0);
        Check(
            avcodec_parameters_from_context(Field<nint>(_streamInContainer, Layout.Stream.CodecParameters), encoder.Context),
            "Describing the sound");
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
        avio_flush(_stream.Context);
        CheckWriting(0);
    }

    public void Dispose()
    {
        if (_context != 0)
            avformat_free_context(_context);
        _context = 0;
        _stream.Dispose();
    }

    private void CheckWriting(int result)
    {
        _stream.ThrowFailure();
        Check(result, "Writing the file");
    }
}
