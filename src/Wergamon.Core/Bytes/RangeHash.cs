using System.IO.Hashing;

namespace Wergamon.Core.Bytes;

/// <summary>
/// A hash (XXH3, 128 bits) over ranges of a file, to tell whether they have stayed as they were; not made against forgery.
/// </summary>
internal sealed class RangeHash
{
    private const int BlockLength = 1 << 18;

    private readonly XxHash128 _hash = new();
    private byte[]? _block;

    public void Add(ReadOnlySpan<byte> bytes) => _hash.Append(bytes);

    /// <summary>Adds a range of a file, up to the end of the file.</summary>
    public void Add(Stream stream, long offset, long length)
    {
        _block ??= GC.AllocateUninitializedArray<byte>((int)Math.Clamp(length, 1, BlockLength));
        stream.Position = offset;
        while (length > 0 && stream.Read(_block.AsSpan(0, (int)Math.Min(length, _block.Length))) is > 0 and var got)
        {
            _hash.Append(_block.AsSpan(0, got));
            length -= got;
        }
    }

    /// <summary>The hash as 32 hexadecimal digits.</summary>
    public override string ToString() => Convert.ToHexStringLower(_hash.GetCurrentHash());

    /// <summary>The hash of a file from an offset to an end.</summary>
    public static string Of(Stream stream, long from, long to)
    {
        var hash = new RangeHash();
        hash.Add(stream, from, to - from);
        return hash.ToString();
    }
}
