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

    /// <summary>Opens an encoder whose packets go into a container that is written from where the stream stands.</summary>
    /// <param name="stream">Seekable; stays open.</param>
    /// <param name="container">As libavformat names it: "mp3".</param>
    /// <param name="containerOptions">Names and values as the container knows them.</param>
    /// <exception cref="CodecException">It is missing or does not take such samples.</exception>
    IEncoder OpenInContainer(
        string name, PcmFormat input, IReadOnlyDictionary<string, string> options, Stream stream, string container,
        IReadOnlyDictionary<string, string> containerOptions);
}

/// <summary>Encodes blocks of samples.</summary>
public interface IEncoder : IDisposable
{
    /// <summary>The encoder's extradata before its first packet; empty when it has none.</summary>
    ReadOnlySpan<byte> ExtraData { get; }

    /// <summary>
    /// Samples of one channel that a decoder gives before the music starts. Some encoders know it only with their first packet.
    /// </summary>
    int Delay { get; }

    void Write(SampleBuffer block);

    /// <summary>Flushes the encoder. Nothing may be written afterwards.</summary>
    void Complete();
}

/// <summary>One encoded packet.</summary>
/// <param name="data">May be empty.</param>
/// <param name="newExtraData">What replaces <see cref="IEncoder.ExtraData"/> from now on; empty where it stays.</param>
/// <param name="frames">Samples of one channel that it stands for, delay included; 0 where the encoder does not say.</param>
public readonly ref struct EncodedPacket(ReadOnlySpan<byte> data, ReadOnlySpan<byte> newExtraData, long frames)
{
    public ReadOnlySpan<byte> Data { get; } = data;

    public ReadOnlySpan<byte> NewExtraData { get; } = newExtraData;

    public long Frames { get; } = frames;
}

/// <summary>Takes one encoded packet.</summary>
public delegate void PacketSink(EncodedPacket packet);
