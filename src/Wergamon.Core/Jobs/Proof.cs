namespace Wergamon.Core.Jobs;

/// <summary>What was checked on a new copy after reading it back from disk.</summary>
/// <param name="IsLossless">True: every sample was compared. False: the length was compared, since the samples must differ.</param>
/// <param name="FramesIn">Samples of one channel that went into the encoder.</param>
/// <param name="FramesOut">Samples of one channel that came out of the finished file.</param>
/// <param name="SampleMd5">MD5 over all samples, the same that went in and came out; null for lossy copies.</param>
/// <param name="FieldsKept">Tag fields and kept frames that read back equal.</param>
/// <param name="PicturesKept">Pictures that read back equal.</param>
/// <param name="Bytes">Size of the file.</param>
/// <param name="KilobitsPerSecond">Mean bitrate of the sound.</param>
/// <param name="FoldGainDecibels">How far a fold-down was turned down so that nothing clips; null without one.</param>
/// <param name="ClippedSamples">Samples held at full scale when bits were taken away.</param>
/// <param name="SourceDamage">What was wrong with the source and could be read around.</param>
public sealed record Proof(
    bool IsLossless,
    long FramesIn,
    long FramesOut,
    string? SampleMd5,
    int FieldsKept,
    int PicturesKept,
    long Bytes,
    int KilobitsPerSecond,
    double? FoldGainDecibels,
    long ClippedSamples,
    IReadOnlyList<string> SourceDamage);
