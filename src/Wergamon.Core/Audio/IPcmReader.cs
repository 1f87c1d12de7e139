namespace Wergamon.Core.Audio;

/// <summary>A source of sound, read once from start to end in blocks.</summary>
public interface IPcmReader : IDisposable
{
    PcmFormat Format { get; }

    /// <summary>Frames to come in all, where the file says so; null where only reading to the end tells.</summary>
    long? FrameCount { get; }

    /// <summary>Fills the block with what comes next and returns its frame count; 0 at the end.</summary>
    /// <param name="block">A block of <see cref="Format"/>.</param>
    int Read(SampleBuffer block);

    /// <summary>What was wrong with the file so far and could be read around, in words for a person.</summary>
    IReadOnlyList<string> Damage { get; }
}

/// <summary>A sink of sound, written once from start to end in blocks.</summary>
public interface IPcmWriter : IDisposable
{
    PcmFormat Format { get; }

    /// <summary>Appends the samples in use of the block.</summary>
    void Write(SampleBuffer block);

    /// <summary>Writes what only the end can know (lengths, sums). Without it the output is not a whole file.</summary>
    void Complete();
}
