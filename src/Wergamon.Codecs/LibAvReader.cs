using Wergamon.Core.Audio;

using static Wergamon.Codecs.LibAv;
using Layout = Wergamon.Codecs.LibAvLayout;

namespace Wergamon.Codecs;

/// <summary>
/// Decodes the audio of any file that libav opens. Integers stay integers at their own depth; encoder delay is
/// cut off by the decoder if the file states it.
/// </summary>
public sealed unsafe class LibAvReader : IPcmReader
{
    /// <summary>Durations are in microseconds (AV_TIME_BASE).</summary>
    private const double DurationUnit = 1_000_000;

    /// <summary>Maximum consecutive broken packets before the rest of the file is given up.</summary>
    private const int MaxBadPackets = 200;

    private readonly List<string> _damage = [];
    private readonly AvSampleFormat _nativeFormat;
    private readonly int _nativeShift;
    private readonly LibAvInput _input;
    private readonly IDisposable? _owned;
    private nint _decoder;
    private nint _packet = av_packet_alloc();
    private nint _frame = av_frame_alloc();
    private int _frameOffset;
    private int _frameLength;
    private int _badPackets;
    private bool _drained;

    /// <param name="path">A file on this machine.</param>
    /// <param name="sound">Which of several audio streams, from 0; null for the default one.</param>
    /// <exception cref="UnreadableAudioException">It holds no audio that can be decoded.</exception>
    public LibAvReader(string path, int? sound = null)
        : this(new LibAvInput(path, sound))
    {
    }

    /// <param name="stream">Stays open. One that cannot seek is read from front to back.</param>
    /// <param name="owned">Disposed of with the reader: what the stream reads from, for example.</param>
    /// <exception cref="UnreadableAudioException">It holds no audio that can be decoded.</exception>
    public LibAvReader(Stream stream, IDisposable? owned = null)
        : this(new LibAvInput(stream), owned)
    {
    }

    private LibAvReader(LibAvInput input, IDisposable? owned = null)
    {
        (_input, _owned) = (input, owned);
        try
        {
            _decoder = OpenDecoder(input);
            _nativeFormat = (AvSampleFormat)Field<int>(_decoder, Layout.CodecContext.SampleFormat);
            Format = DescribeFormat(out _nativeShift);
            (FrameCount, KilobitsPerSecond) = DescribeLength();
        }
        catch
        {
            Dispose();
            throw;
        }
    }

    public PcmFormat Format { get; }

    /// <summary>As exact as the header; decoding to the end may yield a few samples more or less.</summary>
    public long? FrameCount { get; }

    /// <summary>0 where the file does not state it for its sound.</summary>
    public int KilobitsPerSecond { get; }

    /// <summary>The codec's short name in lower case: "mp3", "aac", "flac".</summary>
    public string CodecName => _input.CodecName;

    public IReadOnlyList<string> Damage => _damage;

    /// <summary>How many streams of sound the file has.</summary>
    public int SoundCount => _input.Sounds.Count;

    /// <summary>Which of them this is, from 0.</summary>
    public int Sound => _input.Sound;

    /// <summary>Language and title of the stream, as stated in the file; may be empty.</summary>
    public string StreamName => _input.Name;

    public int Read(SampleBuffer block)
    {
        int filled = 0;
        block.FrameCount = block.Capacity;
        while (filled < block.Capacity)
        {
            if (_frameOffset == _frameLength && !NextFrame())
                break;
            int take = Math.Min(block.Capacity - filled, _frameLength - _frameOffset);
            Copy(block, filled, take);
            _frameOffset += take;
            filled += take;
        }

        block.FrameCount = filled;
        return filled;
    }

    public void Dispose()
    {
        fixed (nint* frame = &_frame, packet = &_packet, decoder = &_decoder)
        {
            if (_frame != 0)
                av_frame_free(frame);
            if (_packet != 0)
                av_packet_free(packet);
            if (_decoder != 0)
                avcodec_free_context(decoder);
        }

        _input.Dispose();
        _owned?.Dispose();
    }

    private static nint OpenDecoder(LibAvInput input)
    {
        nint decoder = avcodec_find_decoder(Field<int>(input.Parameters, Layout.CodecParameters.CodecId));
        if (decoder == 0)
            throw new UnreadableAudioException($"The audio is encoded as {input.CodecName}, which cannot be decoded here.");
        nint context = avcodec_alloc_context3(decoder);
        int result = avcodec_parameters_to_context(context, input.Parameters);
        Field<AvRational>(context, Layout.CodecContext.PacketTimeBase) = Field<AvRational>(input.Stream, Layout.Stream.TimeBase);
        if (result >= 0)
            result = avcodec_open2(context, decoder, null);
        if (result >= 0)
            return context;
        avcodec_free_context(&context);
        throw new UnreadableAudioException($"The decoder does not accept the file: {Describe(result)}.");
    }

    private PcmFormat DescribeFormat(out int shift)
    {
        var rate = new SampleRate(Field<int>(_decoder, Layout.CodecContext.SampleRate));
        nint layout = _decoder + Layout.CodecContext.ChannelLayout;
        int channels = Field<int>(layout, Layout.Layout.Channels);
        if (channels < 1 || rate.Hertz < 1)
            throw new UnreadableAudioException("The file does not state its channels or sample rate.");
        ulong mask = Field<int>(layout, Layout.Layout.Order) == Layout.Layout.NativeOrder ? Field<ulong>(layout, Layout.Layout.Mask) : 0;
        var roles = (ChannelRoles)(uint)mask;
        if (mask > uint.MaxValue || roles.Count() != channels)
            roles = ChannelRolesFacts.Usual(channels);

        int rawBits = Field<int>(_input.Parameters, Layout.CodecParameters.BitsPerRawSample);
        var (width, isFloat) = _nativeFormat switch
        {
            AvSampleFormat.U8 or AvSampleFormat.U8Planar => (8, false),
            AvSampleFormat.S16 or AvSampleFormat.S16Planar => (16, false),
            AvSampleFormat.S32 or AvSampleFormat.S32Planar => (32, false),
            AvSampleFormat.Float or AvSampleFormat.FloatPlanar => (32, true),
            AvSampleFormat.Double or AvSampleFormat.DoublePlanar => (64, true),
            _ => throw new UnreadableAudioException($"The decoder's sample format ({_nativeFormat}) is not supported."),
        };
        int bits = !isFloat && rawBits > 0 && rawBits < width ? rawBits : width;
        shift = width - bits;
        return new PcmFormat(rate, channels, bits, isFloat ? SampleKind.Float : SampleKind.Integer) { Roles = roles };
    }

    private (long? Frames, int KilobitsPerSecond) DescribeLength()
    {
        long duration = Field<long>(_input.Stream, Layout.Stream.Duration);
        var unit = Field<AvRational>(_input.Stream, Layout.Stream.TimeBase);
        double seconds = duration > 0 && unit.Denominator > 0
            ? (double)duration * unit.Numerator / unit.Denominator
            : Field<long>(_input.Context, Layout.FormatContext.Duration) / DurationUnit;
        long bitRate = Field<long>(_input.Parameters, Layout.CodecParameters.BitRate);
        return (seconds > 0 ? (long)Math.Round(seconds * Format.Rate.Hertz) : null, (int)Math.Round(Math.Max(0, bitRate) / 1000.0));
    }

    /// <summary>Decodes the next frame; false at the end.</summary>
    private bool NextFrame()
    {
        _frameOffset = _frameLength = 0;
        while (true)
        {
            int result = avcodec_receive_frame(_decoder, _frame);
            if (result >= 0)
            {
                CheckUnchanged();
                _frameLength = Field<int>(_frame, Layout.Frame.SampleCount);
                _badPackets = 0;
                if (_frameLength > 0)
                    return true;
                continue;
            }

            if (result != ErrorAgain || _drained)
            {
                if (result is not ErrorEndOfFile and not ErrorAgain)
                    NoteBadPacket(result);
                if (_drained || result == ErrorEndOfFile)
                    return false;
            }

            SendNextPacket();
        }
    }

    private void SendNextPacket()
    {
        int result = _input.ReadPacket(_packet);
        if (result < 0)
        {
            if (result != ErrorEndOfFile)
                _damage.Add($"Reading ended early: {Describe(result)}.");
            _drained = true;
            Check(avcodec_send_packet(_decoder, 0), "Ending the decoding");
            return;
        }

        result = avcodec_send_packet(_decoder, _packet);
        av_packet_unref(_packet);
        if (result < 0)
            NoteBadPacket(result);
    }

    private void NoteBadPacket(int error)
    {
        if (_badPackets++ == 0)
            _damage.Add($"A part could not be decoded: {Describe(error)}.");
        if (_badPackets > MaxBadPackets)
            throw new UnreadableAudioException("The file is too damaged to continue.");
    }

    private void CheckUnchanged()
    {
        if (Field<int>(_frame, Layout.Frame.SampleRate) != Format.Rate.Hertz
            || Field<int>(_frame + Layout.Frame.ChannelLayout, Layout.Layout.Channels) != Format.Channels
            || (AvSampleFormat)Field<int>(_frame, Layout.Frame.Format) != _nativeFormat)
            throw new UnreadableAudioException("The sample rate or the channels change in the middle of the file.");
    }

    private void Copy(SampleBuffer block, int at, int count)
    {
        byte** planes = *(byte***)(_frame + Layout.Frame.ExtendedData);
        int channels = Format.Channels;
        bool planar = _nativeFormat >= AvSampleFormat.U8Planar;
        int start = at * channels, length = count * channels;
        switch (_nativeFormat)
        {
            case AvSampleFormat.S16 when _nativeShift == 0:
                CommonLayout.Widen(
                    new ReadOnlySpan<short>((short*)planes[0] + (long)_frameOffset * channels, length),
                    block.Integers.Slice(start, length));
                break;
            case AvSampleFormat.FloatPlanar when channels == 2:
                CommonLayout.Interleave(
                    new ReadOnlySpan<float>((float*)planes[0] + _frameOffset, count),
                    new ReadOnlySpan<float>((float*)planes[1] + _frameOffset, count), block.Floats.Slice(start, length));
                break;
            case AvSampleFormat.S16 or AvSampleFormat.S16Planar:
                SampleLayout.Gather<short, int, SampleLayout.ShortShiftRight>(
                    planes, planar, _frameOffset, channels, block.Integers.Slice(start, length), new(_nativeShift));
                break;
            case AvSampleFormat.S32 or AvSampleFormat.S32Planar:
                SampleLayout.Gather<int, int, SampleLayout.ShiftRight>(
                    planes, planar, _frameOffset, channels, block.Integers.Slice(start, length), new(_nativeShift));
                break;
            case AvSampleFormat.U8 or AvSampleFormat.U8Planar:
                SampleLayout.Gather<byte, int, SampleLayout.ByteToInt>(
                    planes, planar, _frameOffset, channels, block.Integers.Slice(start, length), default);
                break;
            case AvSampleFormat.Float or AvSampleFormat.FloatPlanar:
                SampleLayout.Gather<float, float, SampleLayout.Same<float>>(
                    planes, planar, _frameOffset, channels, block.Floats.Slice(start, length), default);
                break;
            default:
                SampleLayout.Gather<double, double, SampleLayout.Same<double>>(
                    planes, planar, _frameOffset, channels, block.Doubles.Slice(start, length), default);
                break;
        }
    }
}
