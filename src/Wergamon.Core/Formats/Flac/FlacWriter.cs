using Wergamon.Core.Audio;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Formats.Flac;

/// <summary>
/// Writes FLAC: frames come from an encoder, the file around them (RFC 9639, section 8) is ours, so that tags and pictures
/// are in it from the start and nothing has to be moved later.
/// </summary>
internal sealed class FlacWriter : IPcmWriter
{
    private readonly Stream _stream;
    private readonly IEncoder _encoder;
    private readonly byte[] _streamInfo = new byte[FlacStreamInfo.Length];
    private bool _hasStreamInfo;

    /// <param name="open">Opens what gives the frames and, behind them, the final STREAMINFO as new extradata.</param>
    public FlacWriter(Stream stream, PcmFormat format, TagSet tags, Func<PacketSink, IEncoder> open)
    {
        Format = format;
        _stream = stream;
        _encoder = open(TakePacket);
        // STREAMINFO without length and MD5: enough to decode the file while it grows.
        if (!_encoder.ExtraData.TryCopyTo(_streamInfo))
            throw new CodecException("The FLAC encoder states more than a STREAMINFO block holds.");
        FlacTags.Write(stream, _streamInfo, tags);
    }

    public PcmFormat Format { get; }

    public void Write(SampleBuffer block) => _encoder.Write(block);

    public void Complete()
    {
        _encoder.Complete();
        if (!_hasStreamInfo)
            throw new CodecException("The FLAC encoder ended without stating what it had encoded.");
        _stream.Position = FlacTags.StreamInfoOffset;
        _stream.Write(_streamInfo);
        _stream.Position = _stream.Length;
        _stream.Flush();
    }

    public void Dispose()
    {
        _encoder.Dispose();
        _stream.Dispose();
    }

    /// <summary>The last packet carries no frame but the final STREAMINFO, with lengths and MD5.</summary>
    private void TakePacket(EncodedPacket packet)
    {
        if (packet.NewExtraData.Length == FlacStreamInfo.Length)
        {
            packet.NewExtraData.CopyTo(_streamInfo);
            _hasStreamInfo = true;
        }

        _stream.Write(packet.Data);
    }
}
