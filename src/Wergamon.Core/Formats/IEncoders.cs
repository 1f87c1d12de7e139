using Wergamon.Core.Audio;

namespace Wergamon.Core.Formats;

/// <summary>Encoders for formats; implemented by native code outside of Core.</summary>
public interface IEncoders
{
    /// <summary>Opens an encoder that gives bare packets.</summary>
    /// <param name="name">As libavcodec names it: "flac".</param>
    /// <param name="options">Names and values as the encoder knows them.</param>
    /// <param name="takePacket">Called with each packet; it must not keep it.</param>
    /// <exception cref="CodecException">It is missing or does not take such samples.</exception>
    IEncoder Open(string name, PcmFormat input, IReadOnlyDictionary<string, string> options, PacketSink takePacket);

    /// <summary>Opens an encoder whose packets go into a container that is written from the position of the stream.</summary>
    /// <param name="stream">Seekable; stays open.</param>
    /// <param name="container">As libavformat names it: "mp3".</param>
    /// <param name="containerOptions">Names and values of its options in libav.</param>
    /// <exception cref="CodecException">It is missing or does not take such samples.</exception>
    IEncoder OpenInContainer(
        string name, PcmFormat input, IReadOnlyDictionary<string, string> options, Stream stream, string container,
        IReadOnlyDictionary<string, string> containerOptions);
}

/// <summary>Takes one encoded packet.</summary>
public delegate void PacketSink(EncodedPacket packet);
