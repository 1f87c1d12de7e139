using Wergamon.Codecs;

using static Wergamon.Codecs.LibAv;
using Layout = Wergamon.Codecs.LibAvLayout;

namespace Wergamon.Bench;

/// <summary>
/// Minimal conversion of a 16-bit stereo FLAC to MP3: the same libav calls as in the worker, in one loop,
/// without blocks, digest, tags, progress or pipes. The rest is the worker's overhead.
/// </summary>
internal static unsafe class BareLoop
{
    public static void Encode(string source, string output)
    {
        nint input = 0, decoder = OpenDecoder(source, &input, out int index);
        nint packet = av_packet_alloc(), frame = av_frame_alloc();
        using var stream = File.Create(output);
        var format = new Core.Audio.PcmFormat(Core.Audio.SampleRate.AudioDisc, 2, 16);
        LibAvOutput? container = null;
        using var encoder = new LibAvEncoder("libmp3lame", format, new Dictionary<string, string> { ["b"] = "256000" }, made => container!.Write(made));
        container = new LibAvOutput(stream, "mp3", encoder, new Dictionary<string, string> { ["id3v2_version"] = "0" });
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
        Field<int>(frame, Layout.Frame.SampleCount) = Field<int>(encoder.Context, Layout.CodecContext.FrameSize);
        Field<int>(frame, Layout.Frame.Format) = (int)AvSampleFormat.S16Planar;
        Field<int>(frame, Layout.Frame.SampleRate) = encoder.Input.Rate.Hertz;
        Check(av_channel_layout_copy(frame + Layout.Frame.ChannelLayout, encoder.Context + Layout.CodecContext.ChannelLayout), "Describing");
        Check(av_frame_get_buffer(frame, 0), "Making room");
        return frame;
    }

    private static void Feed(nint encoder, LibAvOutput container, nint from, nint to, ref int held, ref long sent)
    {
        int frameSize = Field<int>(encoder, Layout.CodecContext.FrameSize);
        int count = Field<int>(from, Layout.Frame.SampleCount);
        var samples = (short*)(*(byte***)(from + Layout.Frame.ExtendedData))[0];
        for (int at = 0; at < count;)
        {
            if (held == 0)
                Check(av_frame_make_writable(to), "Making room");
            int take = Math.Min(count - at, frameSize - held);
            byte** planes = *(byte***)(to + Layout.Frame.ExtendedData);
            var left = (short*)planes[0] + held;
            var right = (short*)planes[1] + held;
            for (int i = 0; i < take; i++)
            {
                left[i] = samples[2 * (at + i)];
                right[i] = samples[2 * (at + i) + 1];
            }

            at += take;
            held += take;
            if (held == frameSize)
                Send(encoder, container, to, ref held, ref sent);
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
