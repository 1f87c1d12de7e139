using System.IO.Hashing;
using System.Runtime.InteropServices;
using Wergamon.Core.Audio;

namespace Wergamon.Worker;

/// <summary>
/// A 128-bit hash (XXH3) over samples as they are in memory: equal hashes before encoding and after decoding mean equal
/// samples. It costs a tenth of an MD5, and is only meaningful within one conversion.
/// </summary>
internal sealed class SampleSum
{
    private readonly XxHash128 _hash = new();

    public long Frames { get; private set; }

    public UInt128 Value => _hash.GetCurrentHashAsUInt128();

    public void Append(SampleBuffer block)
    {
        _hash.Append(block.Format switch
        {
            { IsFloat: false } => MemoryMarshal.AsBytes(block.Integers),
            { Bits: 32 } => MemoryMarshal.AsBytes(block.Floats),
            _ => MemoryMarshal.AsBytes(block.Doubles),
        });
        Frames += block.FrameCount;
    }
}
