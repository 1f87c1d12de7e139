using System.Runtime.InteropServices;
using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Formats.Iff;

namespace Wergamon.Core.Formats.Wav;

/// <summary>The samples of a WAV file, read from any place.</summary>
public sealed class WavSamples : ISeekablePcm
{
    private readonly Stream _stream;
    private readonly PcmLayout _layout;
    private readonly int _frameBytes;
    private readonly bool _isPlainFloats;
    private byte[] _bytes = [];

    /// <param name="stream">Seekable; owned from now on.</param>
    /// <exception cref="UnreadableAudioException">It is not a WAV file of linear PCM.</exception>
    public WavSamples(Stream stream)
    {
        _stream = stream;
        _layout = WavReader.FindSound(stream) ?? throw new UnreadableAudioException("This is not a WAV file of linear PCM.");
        _frameBytes = _layout.Packing.BytesPerFrame(_layout.Format);
        _isPlainFloats = BitConverter.IsLittleEndian
            && _layout is { Format: { IsFloat: true, Bits: 32 }, Packing.Order: ByteOrder.LittleEndian };
        FrameCount = _layout.Length / _frameBytes;
    }

    public PcmFormat Format => _layout.Format;

    public long FrameCount { get; }

    public void Read(long frame, int count, SampleBuffer block)
    {
        int length = count * _frameBytes;
        if (_isPlainFloats)
        {
            block.FrameCount = count;
            ReadBytes(frame, count, MemoryMarshal.AsBytes(block.Floats));
            return;
        }

        if (_bytes.Length < length)
            _bytes = new byte[length];
        var bytes = _bytes.AsSpan(0, length);
        ReadBytes(frame, count, bytes);
        _layout.Packing.Unpack(bytes, block);
    }

    public void Dispose() => _stream.Dispose();

    private void ReadBytes(long frame, int count, Span<byte> bytes)
    {
        long first = Math.Clamp(frame, 0, FrameCount), end = Math.Clamp(frame + count, first, FrameCount);
        if (end - first < count)
            bytes.Fill(_layout.Packing.UnsignedBytes && _layout.Packing.BytesPerSample(Format) == 1 ? (byte)128 : (byte)0);
        if (end > first)
        {
            _stream.Position = _layout.Offset + first * _frameBytes;
            _stream.ReadUpTo(bytes.Slice((int)(first - frame) * _frameBytes, (int)(end - first) * _frameBytes));
        }
    }
}
