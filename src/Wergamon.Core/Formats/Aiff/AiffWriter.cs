using System.Buffers.Binary;
using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Formats.Iff;

namespace Wergamon.Core.Formats.Aiff;

/// <summary>
/// Writes AIFF for integers and AIFF-C (fl32, fl64) for floats. AIFF lengths are 32 bits, so a file ends at 4 GB.
/// </summary>
public sealed class AiffWriter : IPcmWriter
{
    private const int FileHeaderLength = 12;
    private const int CommonLength = 18;
    private const int SoundHeaderLength = 8;
    private const int VersionLength = 4;

    /// <summary>The only version of AIFF-C there is, as its FVER chunk states it.</summary>
    private const uint CompressedVersion = 0xA2805140;

    private readonly Stream _stream;
    private readonly IReadOnlyList<TailChunk> _tail;
    private readonly byte[] _bytes;
    private long _soundLength;

    /// <param name="stream">A seekable stream, written from its position 0 and owned from now on.</param>
    /// <param name="format">Format of the samples.</param>
    /// <param name="tail">Chunks after the audio.</param>
    public AiffWriter(Stream stream, PcmFormat format, IReadOnlyList<TailChunk>? tail = null)
    {
        _stream = stream;
        _tail = tail ?? [];
        Format = format;
        _bytes = new byte[SampleBuffer.DefaultCapacity * format.BytesPerFrame];
        WriteHeader();
    }

    public PcmFormat Format { get; }

    /// <summary>The exact length in bytes of a file of so many frames.</summary>
    public static long FileLength(PcmFormat format, long frames, long tailLength)
    {
        long sound = frames * format.BytesPerFrame;
        return HeadLength(format) + sound + (sound & 1) + tailLength;
    }

    public void Write(SampleBuffer block)
    {
        int length = block.FrameCount * Format.BytesPerFrame;
        if (FileLength(Format, (_soundLength + length) / Format.BytesPerFrame, _tail.Sum(chunk => chunk.LengthInFile)) > uint.MaxValue)
            throw new IOException("The audio is longer than an AIFF file can hold (4 GB). WAV or FLAC can hold it.");
        var bytes = length <= _bytes.Length ? _bytes : new byte[length];
        PcmPacking.Aiff.Pack(block, bytes);
        _stream.Write(bytes, 0, length);
        _soundLength += length;
    }

    public void Complete()
    {
        if ((_soundLength & 1) == 1)
            _stream.WriteByte(0);
        foreach (var chunk in _tail)
            Chunks.Write(_stream, chunk, ByteOrder.BigEndian);
        _stream.Position = 0;
        WriteHeader();
        _stream.Position = _stream.Length;
        _stream.Flush();
    }

    public void Dispose() => _stream.Dispose();

    private static long HeadLength(PcmFormat format) =>
        FileHeaderLength + (format.IsFloat ? Chunks.HeaderLength + VersionLength : 0)
        + Chunks.HeaderLength + CommonLengthOf(format)
            + (ChannelLayoutChunk.IsNeeded(format) ? Chunks.HeaderLength + ChannelLayoutChunk.Length : 0)
        + Chunks.HeaderLength + SoundHeaderLength;

    /// <summary>AIFF-C adds the compression type and its name, an empty Pascal string padded to 2 bytes.</summary>
    private static int CommonLengthOf(PcmFormat format) => CommonLength + (format.IsFloat ? 6 : 0);

    private void WriteHeader()
    {
        long formLength = HeadLength(Format) + _soundLength + (_soundLength & 1) + _tail.Sum(chunk => chunk.LengthInFile)
            - Chunks.HeaderLength;
        Chunks.WriteHeader(_stream, "FORM", (uint)formLength, ByteOrder.BigEndian);
        _stream.Write(Format.IsFloat ? "AIFC"u8 : "AIFF"u8);
        if (Format.IsFloat)
        {
            Chunks.WriteHeader(_stream, "FVER", VersionLength, ByteOrder.BigEndian);
            _stream.WriteUInt32BigEndian(CompressedVersion);
        }

        Span<byte> common = stackalloc byte[CommonLength + 6];
        common.Clear();
        BinaryPrimitives.WriteInt16BigEndian(common, (short)Format.Channels);
        BinaryPrimitives.WriteUInt32BigEndian(common[2..], (uint)(_soundLength / Format.BytesPerFrame));
        BinaryPrimitives.WriteInt16BigEndian(common[6..], (short)Format.Bits);
        ExtendedFloat.Write(common[8..], Format.Rate.Hertz);
        if (Format.IsFloat)
            (Format.Bits == 32 ? "fl32"u8 : "fl64"u8).CopyTo(common[CommonLength..]);
        int commonLength = CommonLengthOf(Format);
        Chunks.WriteHeader(_stream, "COMM", (uint)commonLength, ByteOrder.BigEndian);
        _stream.Write(common[..commonLength]);

        if (ChannelLayoutChunk.IsNeeded(Format))
        {
            Span<byte> layout = stackalloc byte[ChannelLayoutChunk.Length];
            ChannelLayoutChunk.Write(layout, Format.Roles);
            Chunks.WriteHeader(_stream, ChannelLayoutChunk.Id, ChannelLayoutChunk.Length, ByteOrder.BigEndian);
            _stream.Write(layout);
        }

        Chunks.WriteHeader(_stream, "SSND", (uint)(SoundHeaderLength + _soundLength), ByteOrder.BigEndian);
        Span<byte> offsetAndBlock = stackalloc byte[SoundHeaderLength];
        offsetAndBlock.Clear();
        _stream.Write(offsetAndBlock);
    }
}
