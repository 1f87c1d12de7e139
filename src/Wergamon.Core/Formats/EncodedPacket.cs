namespace Wergamon.Core.Formats;

/// <summary>One encoded packet.</summary>
/// <param name="data">May be empty.</param>
/// <param name="newExtraData">What replaces <see cref="IEncoder.ExtraData"/> from now on; empty where it stays.</param>
/// <param name="frames">Samples of one channel that it stands for, delay included; 0 where the encoder does not say.</param>
public readonly ref struct EncodedPacket(ReadOnlySpan<byte> data, ReadOnlySpan<byte> newExtraData, long frames)
{
    public ReadOnlySpan<byte> Data { get; } = data;

    public ReadOnlySpan<byte> NewExtraData { get; } = newExtraData;

    public long Frames { get; } = frames;
}
