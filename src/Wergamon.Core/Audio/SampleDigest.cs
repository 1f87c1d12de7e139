using System.IO.Hashing;
using System.Runtime.InteropServices;
using System.Security.Cryptography;

namespace Wergamon.Core.Audio;

/// <summary>
/// Digest of all samples: equal digests of one format mean equal audio, whatever the container. Of integers it is the MD5,
/// interleaved, signed, little endian, in whole bytes, that a FLAC file carries in its STREAMINFO block (RFC 9639, section 8.2). Of
/// floats, which no file states a digest of, it is the XXH3 of 128 bits, which costs a tenth.
/// </summary>
public sealed class SampleDigest : IDisposable
{
    private readonly IncrementalHash _md5 = IncrementalHash.CreateHash(HashAlgorithmName.MD5);
    private readonly XxHash128 _xxh3 = new();
    private byte[] _scratch = [];
    private bool _isFloat;

    /// <summary>Frames hashed so far.</summary>
    public long FrameCount { get; private set; }

    /// <param name="block">All of one format.</param>
    public void Append(SampleBuffer block)
    {
        _isFloat = block.Format.IsFloat;
        FrameCount += block.FrameCount;
        if (_isFloat)
        {
            _xxh3.Append(block.Format.Bits == 32 ? MemoryMarshal.AsBytes(block.Floats) : MemoryMarshal.AsBytes(block.Doubles));
            return;
        }

        int needed = block.FrameCount * block.Format.BytesPerFrame;
        if (_scratch.Length < needed)
            _scratch = new byte[needed];
        int length = PcmPacking.Canonical.Pack(block, _scratch);
        _md5.AppendData(_scratch, 0, length);
    }

    /// <summary>The digest as 32 lower-case hexadecimal digits.</summary>
    public string Finish() => Convert.ToHexStringLower(_isFloat ? _xxh3.GetCurrentHash() : _md5.GetHashAndReset());

    /// <summary>Reads a source to its end; returns its digest and its length in frames.</summary>
    public static (string Digest, long FrameCount) Of(IPcmReader reader)
    {
        using var digest = new SampleDigest();
        var block = new SampleBuffer(reader.Format);
        while (reader.Read(block) > 0)
            digest.Append(block);
        return (digest.Finish(), digest.FrameCount);
    }

    public void Dispose() => _md5.Dispose();
}
