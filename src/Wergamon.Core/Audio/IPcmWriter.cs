namespace Wergamon.Core.Audio;

/// <summary>Forward-only PCM sink, written in blocks.</summary>
public interface IPcmWriter : IDisposable
{
    PcmFormat Format { get; }

    /// <summary>Appends the samples in use of the block.</summary>
    void Write(SampleBuffer block);

    /// <summary>Writes lengths and checksums, known only at the end. Without it the file is incomplete.</summary>
    void Complete();
}
