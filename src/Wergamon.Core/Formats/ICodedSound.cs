namespace Wergamon.Core.Formats;

/// <summary>The coded sound of a file, packet by packet, unchanged; read by native code outside of Core.</summary>
public interface ICodedSound : IDisposable
{
    /// <summary>What a decoder needs before the first packet, as libavcodec holds it; empty where the packets say it themselves.</summary>
    ReadOnlySpan<byte> Setup { get; }

    /// <summary>Samples of one channel in a packet, for codecs with packets of one length; 0 for others.</summary>
    int PacketFrames { get; }

    /// <summary>Reads the next packet; false at the end.</summary>
    bool TryRead(out CodedPacket packet);
}
