namespace Wergamon.Core.Formats;

/// <summary>One packet of coded sound.</summary>
/// <param name="data">Valid until the next is read.</param>
/// <param name="isDiscarded">True for a packet that is decoded only to prepare for those that follow.</param>
/// <param name="skipped">Samples at its start that are not played.</param>
public readonly ref struct CodedPacket(ReadOnlySpan<byte> data, bool isDiscarded, int skipped)
{
    public ReadOnlySpan<byte> Data { get; } = data;

    public bool IsDiscarded { get; } = isDiscarded;

    public int Skipped { get; } = skipped;
}
