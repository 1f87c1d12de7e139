using Wergamon.Core.Formats.Ogg;

namespace Wergamon.Core.Formats.Flac;

/// <summary>FLAC in Ogg (RFC 9639, section 10.1); only read.</summary>
internal sealed class FlacInOgg : IOggCodec
{
    private const int BeforeStreamInfo = 17;

    public FileFormat? Format => null;

    public bool Recognises(ReadOnlySpan<byte> firstPacket) => firstPacket.StartsWith("\u007FFLAC"u8);

    public OggIdentity? ReadIdentity(ReadOnlySpan<byte> firstPacket) =>
        firstPacket.Length >= BeforeStreamInfo + FlacStreamInfo.Length && FlacStreamInfo.Read(firstPacket[BeforeStreamInfo..]) is { } info
            ? new OggIdentity("FLAC", info.Format, info.FrameCount, 0, false)
            : null;
}
