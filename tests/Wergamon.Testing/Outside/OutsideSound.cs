namespace Wergamon.Testing.Outside;

/// <summary>What an outside library decoded: interleaved samples, right-justified.</summary>
public sealed record OutsideSound(int Rate, int Channels, int Bits, int[] Samples);
