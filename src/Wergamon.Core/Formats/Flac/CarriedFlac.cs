using System.Buffers.Binary;
using Wergamon.Core.Audio;

namespace Wergamon.Core.Formats.Flac;

/// <summary>
/// Gives the frames of FLAC in another container as they are, and a STREAMINFO with the length and the MD5 that it may have left open.
/// </summary>
internal sealed class CarriedFlac : IEncoder
{
    private const int LengthAt = 13;
    private const int Md5At = 18;

    private readonly ICodedSound _source;
    private readonly PacketSink _takePacket;
    private readonly byte[] _streamInfo;
    private readonly SampleDigest _digest = new();

    /// <param name="source">Owned from now on.</param>
    /// <param name="input">Format of the samples that it decodes to.</param>
    public CarriedFlac(ICodedSound source, PcmFormat input, PacketSink takePacket)
    {
        // Some containers keep the whole head of a FLAC file: its mark and the head of the block come first.
        var setup = source.Setup.StartsWith("fLaC"u8) ? source.Setup[FlacTags.StreamInfoOffset..] : source.Setup;
        if (FlacStreamInfo.Read(setup) is not { } info || info.Format with { Roles = input.Roles } != input)
            throw new CodecException("The file does not say how its FLAC is to be decoded.");
        (_source, _takePacket) = (source, takePacket);
        _streamInfo = setup[..FlacStreamInfo.Length].ToArray();
    }

    public ReadOnlySpan<byte> ExtraData => _streamInfo;

    public int Delay => 0;

    public void Write(SampleBuffer block) => _digest.Append(block);

    public void Complete()
    {
        while (_source.TryRead(out var packet))
            _takePacket(new EncodedPacket(packet.Data, [], 0));
        long frames = _digest.FrameCount;
        // 36 bits of length, the upper four in the byte before (RFC 9639, section 8.2).
        _streamInfo[LengthAt] = (byte)(_streamInfo[LengthAt] & 0xF0 | (int)(frames >> 32) & 0x0F);
        BinaryPrimitives.WriteUInt32BigEndian(_streamInfo.AsSpan(LengthAt + 1), (uint)frames);
        Convert.FromHexString(_digest.Finish()).CopyTo(_streamInfo, Md5At);
        _takePacket(new EncodedPacket([], _streamInfo, 0));
    }

    public void Dispose()
    {
        _digest.Dispose();
        _source.Dispose();
    }
}
