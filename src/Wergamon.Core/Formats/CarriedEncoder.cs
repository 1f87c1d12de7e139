using Wergamon.Core.Audio;

namespace Wergamon.Core.Formats;

/// <summary>How many samples of one channel a packet stands for.</summary>
internal delegate long PacketLength(ReadOnlySpan<byte> packet);

/// <summary>
/// Takes the place of an encoder where the sound stays as it is: it gives the packets of another file instead of encoding the
/// samples, which are decoded from the same packets.
/// </summary>
/// <param name="source">Owned from now on.</param>
/// <param name="lengthOf">How long each packet is.</param>
/// <param name="setup">In the form that the writer expects.</param>
/// <param name="takePacket">Called with each packet at the end.</param>
/// <param name="statedDelay">Where the setup says what a decoder drops at the start; null to go by the packets.</param>
internal sealed class CarriedEncoder(
    ICodedSound source, PacketLength lengthOf, byte[] setup, PacketSink takePacket, int? statedDelay = null)
    : IEncoder
{
    private int _delay;

    public ReadOnlySpan<byte> ExtraData => setup;

    public int Delay => statedDelay ?? _delay;

    public void Write(SampleBuffer block)
    {
        // What was decoded from the packets counts only for its length.
    }

    public void Complete()
    {
        bool hasBegun = false;
        while (source.TryRead(out var packet))
        {
            long frames = lengthOf(packet.Data);
            if (!hasBegun)
            {
                _delay += packet.IsDiscarded ? (int)frames : packet.Skipped;
                hasBegun = !packet.IsDiscarded;
            }

            takePacket(new EncodedPacket(packet.Data, [], frames));
        }
    }

    public void Dispose() => source.Dispose();
}
