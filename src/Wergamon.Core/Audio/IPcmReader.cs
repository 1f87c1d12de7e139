namespace Wergamon.Core.Audio;

/// <summary>Forward-only PCM source, read in blocks.</summary>
public interface IPcmReader : IDisposable
{
    PcmFormat Format { get; }

    /// <summary>Total frames, where the file states it; null when only reading to the end tells.</summary>
    long? FrameCount { get; }

    /// <summary>Fills the block with the next frames and returns their count; 0 at the end.</summary>
    /// <param name="block">A block of <see cref="Format"/>.</param>
    int Read(SampleBuffer block);

    /// <summary>Damage skipped so far, in words for a person.</summary>
    IReadOnlyList<string> Damage { get; }
}
