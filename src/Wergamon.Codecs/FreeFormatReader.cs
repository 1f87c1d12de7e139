using System.Runtime.InteropServices;
using Wergamon.Core.Audio;

using static Wergamon.Codecs.LibMpg123;

namespace Wergamon.Codecs;

/// <summary>Decodes MPEG audio of free format, which libav does not know, through libmpg123.</summary>
public sealed unsafe class FreeFormatReader : IPcmReader
{
    private readonly List<string> _damage = [];
    private nint _handle;
    private bool _isAtEnd;

    /// <exception cref="UnreadableAudioException">It cannot be decoded, or the library is not there.</exception>
    public FreeFormatReader(string path)
    {
        if (!IsThere)
            throw new UnreadableAudioException("This MP3 is of free format, which needs the package libmpg123-0; it is not installed.");
        int error = mpg123_init();
        _handle = mpg123_new(0, &error);
        nint rate = 0;
        int channels = 0, encoding = 0;
        if (_handle == 0 || mpg123_param(_handle, AddFlags, FloatAndQuiet, 0) != 0 || mpg123_open(_handle, path) != 0
            || mpg123_getformat(_handle, &rate, &channels, &encoding) != 0 || channels < 1 || rate < 1)
        {
            Dispose();
            throw new UnreadableAudioException("This MP3 is of free format and cannot be decoded.");
        }

        Format = new PcmFormat(new SampleRate((int)rate), channels, 32, SampleKind.Float);
    }

    public PcmFormat Format { get; }

    public long? FrameCount => null;

    public IReadOnlyList<string> Damage => _damage;

    public int Read(SampleBuffer block)
    {
        block.FrameCount = block.Capacity;
        var bytes = MemoryMarshal.AsBytes(block.Floats);
        int filled = 0;
        fixed (byte* into = bytes)
        {
            while (filled < bytes.Length && !_isAtEnd)
            {
                nuint got = 0;
                int result = mpg123_read(_handle, into + filled, (nuint)(bytes.Length - filled), &got);
                filled += (int)got;
                _isAtEnd = result is not 0 and not NewFormat;
                if (_isAtEnd && result != Done)
                    _damage.Add("Reading ended early: a part could not be decoded.");
            }
        }

        block.FrameCount = filled / Format.BytesPerFrame;
        return block.FrameCount;
    }

    public void Dispose()
    {
        if (_handle != 0)
            mpg123_delete(_handle);
        _handle = 0;
    }
}
