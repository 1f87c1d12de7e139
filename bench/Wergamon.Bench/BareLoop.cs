using Wergamon.Codecs;

using static Wergamon.Codecs.LibAv;
using Layout = Wergamon.Codecs.LibAvLayout;

namespace Wergamon.Bench;

/// <summary>What libav is asked for in one format.</summary>
/// <param name="Encoder">The encoder's name.</param>
/// <param name="Container">The name of the container.</param>
/// <param name="Options">Options of the encoder.</param>
internal sealed record BareFormat(string Encoder, string Container, IReadOnlyDictionary<string, string> Options);

/// <summary>
/// Minimal conversion of a 16-bit stereo FLAC: the same libav calls as in the worker, in one loop, without blocks, digest, tags,
/// progress or pipes. The rest is the worker's overhead.
/// </summary>
internal static unsafe class BareLoop
{
    public static readonly BareFormat Mp3 = new("libmp3lame", "mp3", new Dictionary<string, string> { ["b"] = "256000" });

    public static void Encode(string source, string output) => Encode(source, output, Mp3, Core.Audio.SampleRate.AudioDisc);

    public static void Encode(string source, string output, BareFormat to, Core.Audio.SampleRate rate)
    {
        nint input = 0, decoder = OpenDecoder(source, &input, out int index);
        nint packet = av_packet_alloc(), frame = av_frame_alloc();
        using var stream = File.Create(output);
        var format = new Core.Audio.PcmFormat(rate, 2, 16);
        LibAvOutput? container = null;
        using var encoder = new LibAvEncoder(to.Encoder, format, to.Options, made => container!.Write(made));
        container = new LibAvOutput(stream, to.Container, encoder, new Dictionary<string, string>());
        nint toEncode = MakeFrame(encoder);
        int held = 0;
        long sent = 0;
        while (av_read_frame(input, packet) >= 0)
        {
            if (Field<int>(packet, Layout.Packet.StreamIndex) == index)
            {
                Check(avcodec_send_packet(decoder, packet), "Decoding");
                while (avcodec_receive_frame(decoder, frame) >= 0)
                    Feed(encoder.Context, container, frame, toEncode, ref held, ref sent);
            }

            av_packet_unref(packet);
        }

        Send(encoder.Context, container, toEncode, ref held, ref sent);
        Check(avcodec_send_frame(encoder.Context, 0), "Ending");
        Drain(encoder.Context, container);
        container.Complete();
        container.Dispose();
        av_frame_free(&frame);
        av_frame_free(&toEncode);
        av_packet_free(&packet);
        avcodec_free_context(&decoder);
        avformat_close_input(&input);
    }

    /// <summary>Decodes a file to its end and discards the samples, as reading back does.</summary>
    public static void Decode(string source)
    {
        nint input = 0, decoder = OpenDecoder(source, &input, out int index);
        nint packet = av_packet_alloc(), frame = av_frame_alloc();
        while (av_read_frame(input, packet) >= 0)
        {
            if (Field<int>(packet, Layout.Packet.StreamIndex) == index)
            {
                Check(avcodec_send_packet(decoder, packet), "Decoding");
                while (avcodec_receive_frame(decoder, frame) >= 0)
                {
                }
            }

            av_packet_unref(packet);
        }

        av_frame_free(&frame);
        av_packet_free(&packet);
        avcodec_free_context(&decoder);
        avformat_close_input(&input);
    }

    private static nint OpenDecoder(string source, nint* input, out int index)
    {
        Check(avformat_open_input(input, "file:" + source, 0, null), "Opening");
        Check(avformat_find_stream_info(*input, null), "Opening");
        // The albums that are measured have one stream a file.
        index = 0;
        nint parameters = Field<nint>((*(nint**)(*input + Layout.FormatContext.Streams))[index], Layout.Stream.CodecParameters);
        nint codec = avcodec_find_decoder(Field<int>(parameters, Layout.CodecParameters.CodecId));
        nint context = avcodec_alloc_context3(codec);
        Check(avcodec_parameters_to_context(context, parameters), "Opening");
        Check(avcodec_open2(context, codec, null), "Opening");
        return context;
    }

    private static nint MakeFrame(LibAvEncoder encoder)
    {
        nint frame = av_frame_alloc();
        Field<int>(frame, Layout.Frame.SampleCount) = FrameSizeOf(encoder.Context);
        Field<int>(frame, Layout.Frame.Format) = Field<int>(encoder.Context, Layout.CodecContext.SampleFormat);
        Field<int>(frame, Layout.Frame.SampleRate) = encoder.Input.Rate.Hertz;
        Check(
            av_channel_layout_copy(frame + Layout.Frame.ChannelLayout, encoder.Context + Layout.CodecContext.ChannelLayout), "Describing");
        Check(av_frame_get_buffer(frame, 0), "Making room");
        return frame;
    }

    private static void Feed(nint encoder, LibAvOutput container, nint from, nint to, ref int held, ref long sent)
    {
        int frameSize = FrameSizeOf(encoder);
        int count = Field<int>(from, Layout.Frame.SampleCount);
        var samples = (short*)(*(byte***)(from + Layout.Frame.ExtendedData))[0];
        for (int at = 0; at < count;)
        {
            if (held == 0)
                Check(av_frame_make_writable(to), "Making room");
            int take = Math.Min(count - at, frameSize - held);
            Copy(
                samples + 2 * at, *(byte***)(to + Layout.Frame.ExtendedData), (AvSampleFormat)Field<int>(to, Layout.Frame.Format), held,
                take);
            at += take;
            held += take;
            if (held == frameSize)
                Send(encoder, container, to, ref held, ref sent);
        }
    }

    /// <summary>Encoders of PCM take frames of any length.</summary>
    private static int FrameSizeOf(nint encoder) => Field<int>(encoder, Layout.CodecContext.FrameSize) is > 0 and var size ? size : 4096;

    private static void Copy(short* samples, byte** planes, AvSampleFormat format, int at, int count)
    {
        switch (format)
        {
            case AvSampleFormat.S16:
                Buffer.MemoryCopy(samples, (short*)planes[0] + 2 * at, 4L * count, 4L * count);
                break;
            case AvSampleFormat.S16Planar:
                for (int i = 0; i < count; i++)
                {
                    ((short*)planes[0])[at + i] = samples[2 * i];
                    ((short*)planes[1])[at + i] = samples[2 * i + 1];
                }

                break;
            case AvSampleFormat.FloatPlanar:
                for (int i = 0; i < count; i++)
                {
                    ((float*)planes[0])[at + i] = samples[2 * i] * (1f / 32768);
                    ((float*)planes[1])[at + i] = samples[2 * i + 1] * (1f / 32768);
                }

                break;
            default:
                throw new NotSupportedException($"The encoder wants {format}.");
        }
    }

    private static void Send(nint encoder, LibAvOutput container, nint frame, ref int held, ref long sent)
    {
        if (held == 0)
            return;
        Field<int>(frame, Layout.Frame.SampleCount) = held;
        Field<long>(frame, Layout.Frame.Pts) = sent;
        Check(avcodec_send_frame(encoder, frame), "Encoding");
        sent += held;
        held = 0;
        Drain(encoder, container);
    }

    private static void Drain(nint encoder, LibAvOutput container)
    {
        nint made = av_packet_alloc();
        while (avcodec_receive_packet(encoder, made) >= 0)
        {
            container.Write(made);
            av_packet_unref(made);
        }

        av_packet_free(&made);
    }
}
