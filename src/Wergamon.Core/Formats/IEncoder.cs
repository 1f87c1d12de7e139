using Wergamon.Core.Audio;

namespace Wergamon.Core.Formats;

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
