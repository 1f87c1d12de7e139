using System.Runtime.InteropServices;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;

using static Wergamon.Codecs.LibAv;
using Layout = Wergamon.Codecs.LibAvLayout;

namespace Wergamon.Codecs;

/// <summary>Feeds blocks to a libav encoder in frames of the size it wants and passes each packet on.</summary>
internal sealed unsafe class LibAvEncoder : IEncoder
{
    private const int SearchChildren = 1;
    private const int EndOfList = -1;

    private AvSampleFormat _sampleFormat;
    private readonly int _frameSize;
    private readonly Action<nint> _takePacket;
    private nint _context;
    private nint _frame = av_frame_alloc();
    private nint _packet = av_packet_alloc();
    private int _held;
    private long _sent;

    /// <param name="name">The encoder's name in libav.</param>
    /// <param name="input">Format of the blocks.</param>
    /// <param name="options">Names and values of its options in libav.</param>
    /// <param name="takePacket">Called with each packet; it must not keep it.</param>
    public LibAvEncoder(string name, PcmFormat input, IReadOnlyDictionary<string, string> options, Action<nint> takePacket)
    {
        Input = input;
        _takePacket = takePacket;
        try
        {
            OpenEncoder(name, options);
            _frameSize = MakeFrame();
        }
        catch
        {
            Dispose();
            throw;
        }
    }

    public PcmFormat Input { get; }

    public nint Context => _context;

    public AvRational TimeBase => new() { Numerator = 1, Denominator = Input.Rate.Hertz };

    /// <summary>The encoder's extradata before its first packet; empty when it has none.</summary>
    public ReadOnlySpan<byte> ExtraData =>
        new(Field<nint>(_context, Layout.CodecContext.ExtraData).ToPointer(), Field<int>(_context, Layout.CodecContext.ExtraDataSize));

    public int Delay => Field<int>(_context, Layout.CodecContext.InitialPadding);

    public void Write(SampleBuffer block)
    {
        int at = 0;
        while (at < block.FrameCount)
        {
            if (_held == 0)
                Check(av_frame_make_writable(_frame), "Making room for samples");
            int take = Math.Min(block.FrameCount - at, _frameSize - _held);
            Fill(block, at, take);
            at += take;
            _held += take;
            if (_held == _frameSize)
                Send();
        }
    }

    /// <summary>Passes a libav packet on as bytes.</summary>
    public static void Hand(nint packet, PacketSink takePacket)
    {
        nuint length = 0;
        byte* extraData = av_packet_get_side_data(packet, SideDataNewExtradata, &length);
        takePacket(new EncodedPacket(
            new ReadOnlySpan<byte>(Field<nint>(packet, Layout.Packet.Data).ToPointer(), Field<int>(packet, Layout.Packet.Size)),
            new ReadOnlySpan<byte>(extraData, (int)length),
            Field<long>(packet, Layout.Packet.Duration)));
    }

    /// <summary>Sends the pending samples and drains the encoder.</summary>
    public void Complete()
    {
        if (_held > 0)
            Send();
        Check(avcodec_send_frame(_context, 0), "Ending the encoding");
        Drain();
    }

    public void Dispose()
    {
        fixed (nint* frame = &_frame, packet = &_packet, context = &_context)
        {
            if (_frame != 0)
                av_frame_free(frame);
            if (_packet != 0)
                av_packet_free(packet);
            if (_context != 0)
                avcodec_free_context(context);
        }
    }

    private void OpenEncoder(string name, IReadOnlyDictionary<string, string> options)
    {
        nint codec = avcodec_find_encoder_by_name(name);
        if (codec == 0)
            throw new CodecException($"The encoder {name} is missing from the installed libavcodec.");
        _sampleFormat = ChooseSampleFormat(codec);
        _context = avcodec_alloc_context3(codec);
        Field<int>(_context, Layout.CodecContext.SampleRate) = Input.Rate.Hertz;
        Field<int>(_context, Layout.CodecContext.SampleFormat) = (int)_sampleFormat;
        Field<AvRational>(_context, Layout.CodecContext.TimeBase) = TimeBase;
        if (!Input.IsFloat)
            Field<int>(_context, Layout.CodecContext.BitsPerRawSample) = Input.Bits;
        SetChannels(_context + Layout.CodecContext.ChannelLayout, Input);
        foreach (var (option, value) in options)
            Check(av_opt_set(_context, option, value, SearchChildren), $"The encoder {name} refused {option}={value}");
        Check(avcodec_open2(_context, codec, null), $"The encoder {name} does not take {Input}");
    }

    /// <summary>
    /// The sample format, of those the encoder accepts, that holds the samples unchanged, or as floats for lossy encoders that take nothing
    /// else.
    /// </summary>
    private AvSampleFormat ChooseSampleFormat(nint codec)
    {
        AvSampleFormat[] integers = Input.IsFloat
            ? []
            : Input.Bits <= 16
            ? [AvSampleFormat.S16, AvSampleFormat.S16Planar]
            : [AvSampleFormat.S32, AvSampleFormat.S32Planar];
        var offered = new List<AvSampleFormat>();
        for (int* list = (int*)Field<nint>(codec, Layout.Codec.SampleFormats); list != null && *list != EndOfList; list++)
            offered.Add((AvSampleFormat)(*list));
        foreach (var wanted in (AvSampleFormat[])[.. integers, AvSampleFormat.FloatPlanar, AvSampleFormat.Float])
        {
            if (offered.Contains(wanted))
                return wanted;
        }

        throw new CodecException($"The encoder {Marshal.PtrToStringUTF8(Field<nint>(codec, Layout.Codec.Name))} does not take {Input}.");
    }

    private int MakeFrame()
    {
        int wanted = Field<int>(_context, Layout.CodecContext.FrameSize);
        int frameSize = wanted > 0 ? wanted : SampleBuffer.DefaultCapacity;
        Field<int>(_frame, Layout.Frame.SampleCount) = frameSize;
        Field<int>(_frame, Layout.Frame.Format) = (int)_sampleFormat;
        Field<int>(_frame, Layout.Frame.SampleRate) = Input.Rate.Hertz;
        Check(
            av_channel_layout_copy(_frame + Layout.Frame.ChannelLayout, _context + Layout.CodecContext.ChannelLayout),
            "Copying the channel roles");
        Check(av_frame_get_buffer(_frame, 0), "Making room for samples");
        return frameSize;
    }

    private static void SetChannels(nint layout, PcmFormat format)
    {
        if (format.Roles.Count() == format.Channels)
            Check(av_channel_layout_from_mask(layout, (ulong)format.Roles.WithSurroundsAtBack()), "Stating the channel roles");
        else
            av_channel_layout_default(layout, format.Channels);
    }

    private void Fill(SampleBuffer block, int at, int count)
    {
        byte** planes = *(byte***)(_frame + Layout.Frame.ExtendedData);
        int channels = Input.Channels;
        bool planar = _sampleFormat >= AvSampleFormat.U8Planar;
        int start = at * channels, length = count * channels;
        switch (_sampleFormat)
        {
            case AvSampleFormat.S16 or AvSampleFormat.S16Planar:
                SampleLayout.Scatter<int, short, SampleLayout.IntToShort>(
                    block.Integers.Slice(start, length), planes, planar, _held, channels, new(Input.Bits));
                break;
            case AvSampleFormat.S32 or AvSampleFormat.S32Planar:
                SampleLayout.Scatter<int, int, SampleLayout.ShiftLeft>(
                    block.Integers.Slice(start, length), planes, planar, _held, channels, new(32 - Input.Bits));
                break;
            case AvSampleFormat.Float or AvSampleFormat.FloatPlanar when !Input.IsFloat:
                SampleLayout.Scatter<int, float, SampleLayout.IntToFloat>(
                    block.Integers.Slice(start, length), planes, planar, _held, channels, new(Input.Bits));
                break;
            case AvSampleFormat.Float or AvSampleFormat.FloatPlanar when Input.Bits == 64:
                SampleLayout.Scatter<double, float, SampleLayout.DoubleToFloat>(
                    block.Doubles.Slice(start, length), planes, planar, _held, channels, default);
                break;
            case AvSampleFormat.Float or AvSampleFormat.FloatPlanar:
                SampleLayout.Scatter<float, float, SampleLayout.Same<float>>(
                    block.Floats.Slice(start, length), planes, planar, _held, channels, default);
                break;
            default:
                throw new InvalidOperationException($"No way from {Input} to {_sampleFormat}.");
        }
    }

    private void Send()
    {
        Field<int>(_frame, Layout.Frame.SampleCount) = _held;
        Field<long>(_frame, Layout.Frame.Pts) = _sent;
        Check(avcodec_send_frame(_context, _frame), "Encoding");
        _sent += _held;
        _held = 0;
        Drain();
    }

    private void Drain()
    {
        while (true)
        {
            int result = avcodec_receive_packet(_context, _packet);
            if (result is ErrorAgain or ErrorEndOfFile)
                return;
            Check(result, "Encoding");
            _takePacket(_packet);
            av_packet_unref(_packet);
        }
    }
}
