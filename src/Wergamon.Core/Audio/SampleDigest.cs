using System.Security.Cryptography;

namespace Wergamon.Core.Audio;

/// <summary>
/// MD5 of all samples, interleaved, signed, little endian, in whole bytes: the checksum that a FLAC file
/// carries in its STREAMINFO block (RFC 9639, section 8.2). Equal checksums mean equal audio, whatever the container.
/// </summary>
public sealed class SampleDigest : IDisposable
{
    private readonly IncrementalHash _hash = IncrementalHash.CreateHash(HashAlgorithmName.MD5);
    private byte[] _scratch = [];

    /// <summary>Frames hashed so far.</summary>
    public long FrameCount { get; private set; }

    public void Append(SampleBuffer block)
    {
        int needed = block.FrameCount * block.Format.BytesPerFrame;
        if (_scratch.Length < needed)
            _scratch = new byte[needed];
        int length = PcmPacking.Canonical.Pack(block, _scratch);
        _hash.AppendData(_scratch, 0, length);
        FrameCount += block.FrameCount;
    }

    /// <summary>The hash as 32 lower-case hexadecimal digits; resets it.</summary>
    public string Finish() => Convert.ToHexStringLower(_hash.GetHashAndReset());

    /// <summary>Reads a source to its end; returns its hash and its length in frames.</summary>
    public static (string Md5, long FrameCount) Of(IPcmReader reader)
    {
        using var digest = new SampleDigest();
        var block = new SampleBuffer(reader.Format);
        while (reader.Read(block) > 0)
            digest.Append(block);
        return (digest.Finish(), digest.FrameCount);
    }

    public void Dispose() => _hash.Dispose();
}
