using Wergamon.Codecs;
using Wergamon.Core.Audio;

namespace Wergamon.Testing;

/// <summary>Files made by libav, in formats that Wergamon only reads.</summary>
public static class EncodedFile
{
    static EncodedFile() => LibAvPresence.Silence();

    /// <param name="container">Its name in libav.</param>
    /// <param name="codec">The encoder's name in libav.</param>
    public static string Write(string path, string container, string codec, IPcmReader sound, params (string Name, string Value)[] options)
    {
        using var stream = File.Create(path);
        var settings = options.ToDictionary(option => option.Name, option => option.Value);
        using var encoder = LibAvEncoders.Instance.OpenInContainer(
            codec, sound.Format, settings, stream, container, new Dictionary<string, string> { ["strict"] = "experimental" });
        var block = new SampleBuffer(sound.Format);
        while (sound.Read(block) > 0)
            encoder.Write(block);
        encoder.Complete();
        return path;
    }

    /// <summary>Several streams of sound in one file.</summary>
    /// <param name="container">Its name in libav.</param>
    /// <param name="streams">For each the encoder's name in libav, its language, its options and its sound.</param>
    public static unsafe string WriteStreams(
        string path, string container,
        params (string Codec, string Language, Dictionary<string, string> Options, TestSound Sound)[] streams)
    {
        using var file = File.Create(path);
        using var target = new LibAvStream(file, forWriting: true);
        nint made = 0;
        LibAv.Check(LibAv.avformat_alloc_output_context2(&made, 0, container, null), "Making a file");
        nint context = made;
        LibAv.Field<nint>(context, LibAvLayout.FormatContext.Pb) = target.Context;
        var places = new nint[streams.Length];
        var encoders = new LibAvEncoder[streams.Length];
        for (int i = 0; i < streams.Length; i++)
        {
            int index = i;
            encoders[i] = new LibAvEncoder(streams[i].Codec, streams[i].Sound.Format, streams[i].Options, packet =>
            {
                LibAv.av_packet_rescale_ts(
                    packet, encoders[index].TimeBase, LibAv.Field<AvRational>(places[index], LibAvLayout.Stream.TimeBase));
                LibAv.Field<int>(packet, LibAvLayout.Packet.StreamIndex) = index;
                LibAv.Check(LibAv.av_write_frame(context, packet), "Writing a packet");
            });
            places[i] = LibAv.avformat_new_stream(context, 0);
            LibAv.Check(
                LibAv.avcodec_parameters_from_context(
                    LibAv.Field<nint>(places[i], LibAvLayout.Stream.CodecParameters), encoders[i].Context),
                "Describing the sound");
            LibAv.Field<AvRational>(places[i], LibAvLayout.Stream.TimeBase) = encoders[i].TimeBase;
            fixed (void* metadata = &LibAv.Field<nint>(places[i], LibAvLayout.Stream.Metadata))
                LibAv.Check(LibAv.av_dict_set((nint*)metadata, "language", streams[i].Language, 0), "Naming the language");
        }

        LibAv.Check(LibAv.avformat_write_header(context, null), "Writing the header");
        var blocks = streams.Select(stream => new SampleBuffer(stream.Sound.Format)).ToArray();
        for (bool more = true; more;)
        {
            more = false;
            for (int i = 0; i < streams.Length; i++)
            {
                if (streams[i].Sound.Read(blocks[i]) == 0)
                    continue;
                encoders[i].Write(blocks[i]);
                more = true;
            }
        }

        foreach (var encoder in encoders)
            encoder.Complete();
        LibAv.Check(LibAv.av_write_trailer(context), "Ending the file");
        LibAv.avio_flush(target.Context);
        foreach (var encoder in encoders)
            encoder.Dispose();
        LibAv.avformat_free_context(context);
        return path;
    }
}
