namespace Wergamon.Core.Formats.Aac;

/// <summary>
/// AAC whose packets each carry a header (ADTS; ISO/IEC 14496-3, 1.A.2.2): takes the headers off and states the setup once instead.
/// </summary>
internal sealed class AdtsSound : ICodedSound
{
    private const int HeadLength = 7;
    private const int HeadLengthWithCrc = 9;

    private readonly ICodedSound _source;
    private readonly byte[] _setup;
    private readonly byte[] _first;
    private readonly (bool IsDiscarded, int Skipped) _firstFacts;
    private bool _isFirstRead;

    /// <param name="source">Owned from now on.</param>
    /// <exception cref="CodecException">Its packets have no such headers.</exception>
    public AdtsSound(ICodedSound source)
    {
        _source = source;
        if (!source.TryRead(out var packet) || HeadOf(packet.Data) == 0)
            throw new CodecException("The file does not say how its AAC is to be decoded.");
        _setup = SetupOf(packet.Data);
        _first = Strip(packet.Data).ToArray();
        _firstFacts = (packet.IsDiscarded, packet.Skipped);
    }

    public ReadOnlySpan<byte> Setup => _setup;

    public int PacketFrames => _source.PacketFrames;

    public bool TryRead(out CodedPacket packet)
    {
        if (!_isFirstRead)
        {
            _isFirstRead = true;
            packet = new CodedPacket(_first, _firstFacts.IsDiscarded, _firstFacts.Skipped);
            return true;
        }

        if (!_source.TryRead(out packet))
            return false;
        packet = new CodedPacket(Strip(packet.Data), packet.IsDiscarded, packet.Skipped);
        return true;
    }

    public void Dispose() => _source.Dispose();

    /// <summary>0 where there is none.</summary>
    private static int HeadOf(ReadOnlySpan<byte> packet) =>
        packet.Length > HeadLengthWithCrc && packet[0] == 0xFF && (packet[1] & 0xF6) == 0xF0
            ? (packet[1] & 1) == 1
            ? HeadLength
            : HeadLengthWithCrc
            : 0;

    private static ReadOnlySpan<byte> Strip(ReadOnlySpan<byte> packet) => packet[HeadOf(packet)..];

    /// <summary>The audio specific config (ISO/IEC 14496-3, 1.6.2.1): object type, index of the rate, channels.</summary>
    private static byte[] SetupOf(ReadOnlySpan<byte> head)
    {
        int kind = (head[2] >> 6) + 1, rate = head[2] >> 2 & 15, channels = (head[2] & 1) << 2 | head[3] >> 6;
        return [(byte)(kind << 3 | rate >> 1), (byte)(rate << 7 | channels << 3)];
    }
}
