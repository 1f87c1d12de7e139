using System.Globalization;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Tags;

using static Wergamon.Codecs.LibAv;
using Layout = Wergamon.Codecs.LibAvLayout;

namespace Wergamon.Codecs;

/// <summary>
/// Writes FLAC: libav encodes the frames, the file around them (RFC 9639, section 8) is ours, so that tags and pictures
/// stand in it from the start and nothing has to be moved afterwards.
/// </summary>
public sealed unsafe class FlacWriter : IPcmWriter
{
    private readonly Stream _stream;
    private readonly LibAvEncoder _encoder;
    private readonly byte[] _streamInfo = new byte[FlacStreamInfo.Length];
    private bool _hasStreamInfo;

    /// <param name="stream">Seekable, written from its position 0 and owned from now on.</param>
    /// <param name="format">Integers of 16 or 24 bits, 1 to 8 channels.</param>
    /// <param name="level">0 (fastest) to 8 (smallest).</param>
    public FlacWriter(Stream stream, PcmFormat format, TagSet tags, int level)
    {
        if (format is not { IsFloat: false, Bits: 16 or 24, Channels: >= 1 and <= 8 })
            throw new CodecException($"FLAC is written with 16 or 24 bits and up to 8 channels, not {format}.");
        _stream = stream;
        var options = new Dictionary<string, string> { ["compression_level"] = level.ToString(CultureInfo.InvariantCulture) };
        _encoder = new LibAvEncoder("flac", format, format.Bits == 16 ? AvSampleFormat.S16 : AvSampleFormat.S32, options, TakePacket);
        // Shape of the samples, with length and MD5 left open: enough to decode the file while it grows.
        if (!_encoder.ExtraData.TryCopyTo(_streamInfo))
            throw new CodecException("The FLAC encoder states more than a STREAMINFO block holds.");
        FlacTags.Write(stream, _streamInfo, tags);
    }

    public PcmFormat Format => _encoder.Input;

    public void Write(SampleBuffer block) => _encoder.Write(block);

    public void Complete()
    {
        _encoder.Complete();
        if (!_hasStreamInfo)
            throw new CodecException("The FLAC encoder ended without stating what it had encoded.");
        _stream.Position = 8;
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
    private void TakePacket(nint packet)
    {
        nuint length = 0;
        byte* final = av_packet_get_side_data(packet, SideDataNewExtradata, &length);
        if (final != null && length == FlacStreamInfo.Length)
        {
            new ReadOnlySpan<byte>(final, FlacStreamInfo.Length).CopyTo(_streamInfo);
            _hasStreamInfo = true;
        }

        _stream.Write(new ReadOnlySpan<byte>((void*)Field<nint>(packet, Layout.Packet.Data), Field<int>(packet, Layout.Packet.Size)));
    }
}
