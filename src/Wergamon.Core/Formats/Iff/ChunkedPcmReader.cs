using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;

namespace Wergamon.Core.Formats.Iff;

/// <summary>Reads linear PCM stored in one piece.</summary>
public abstract class ChunkedPcmReader : IPcmReader
{
    private readonly Stream _stream;
    private readonly PcmPacking _packing;
    private readonly List<string> _damage;
    private readonly byte[] _bytes;
    private readonly int _frameBytes;
    private long _framesLeft;

    private protected ChunkedPcmReader(Stream stream, PcmLayout layout)
    {
        _stream = stream;
        _packing = layout.Packing;
        _damage = layout.Damage;
        Format = layout.Format;
        _frameBytes = _packing.BytesPerFrame(Format);
        _framesLeft = layout.Length / _frameBytes;
        FrameCount = _framesLeft;
        _bytes = new byte[SampleBuffer.DefaultCapacity * _frameBytes];
        stream.Position = layout.Offset;
    }

    public PcmFormat Format { get; }

    public long? FrameCount { get; }

    public IReadOnlyList<string> Damage => _damage;

    public int Read(SampleBuffer block)
    {
        int frames = (int)Math.Min(Math.Min(block.Capacity, SampleBuffer.DefaultCapacity), _framesLeft);
        int got = frames == 0 ? 0 : _stream.ReadUpTo(_bytes.AsSpan(0, frames * _frameBytes)) / _frameBytes;
        if (got < frames)
            _damage.Add($"The file ended {_framesLeft - got} samples early.");
        _framesLeft = got < frames ? 0 : _framesLeft - got;
        _packing.Unpack(_bytes.AsSpan(0, got * _frameBytes), block);
        return got;
    }

    /// <summary>Opens a file; null for one whose sound is coded, which is left to a decoder.</summary>
    internal static T? Try<T>(Func<T> open) where T : ChunkedPcmReader
    {
        try
        {
            return open();
        }
        catch (CodedAudioException)
        {
            return null;
        }
    }

    /// <summary>What the header says.</summary>
    internal AudioFacts FactsAs(FileFormat format) =>
        new(format, format.Name, Format, FrameCount ?? 0, IsLossless: true, (int)Math.Round(Format.BitRate / 1000.0)) { Damage = Damage };

    public void Dispose()
    {
        _stream.Dispose();
        GC.SuppressFinalize(this);
    }
}
