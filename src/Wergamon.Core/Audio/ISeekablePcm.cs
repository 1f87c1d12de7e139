namespace Wergamon.Core.Audio;

/// <summary>PCM that can be read from any place, in any order.</summary>
public interface ISeekablePcm : IDisposable
{
    PcmFormat Format { get; }

    long FrameCount { get; }

    /// <summary>Fills the block with <paramref name="count"/> frames; everything before the start or after the end is silence.</summary>
    /// <param name="frame">First frame; may be negative.</param>
    /// <param name="count">At most the capacity of the block.</param>
    /// <param name="block">A block of <see cref="Format"/>.</param>
    void Read(long frame, int count, SampleBuffer block);
}
