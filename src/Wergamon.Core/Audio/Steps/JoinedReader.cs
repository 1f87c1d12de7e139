namespace Wergamon.Core.Audio.Steps;

/// <summary>Several sources of one format, back to back.</summary>
public sealed class JoinedReader : IPcmReader
{
    private readonly IReadOnlyList<IPcmReader> _parts;
    private int _at;

    /// <param name="parts">At least one; owned from now on.</param>
    public JoinedReader(IReadOnlyList<IPcmReader> parts)
    {
        _parts = parts;
        if (parts.FirstOrDefault(part => part.Format != parts[0].Format) is { } odd)
            throw new UnreadableAudioException($"The pieces do not fit together: one is {odd.Format}, the first is {parts[0].Format}.");
    }

    public PcmFormat Format => _parts[0].Format;

    public long? FrameCount => _parts.Sum(part => part.FrameCount);

    public IReadOnlyList<string> Damage => [.. _parts.SelectMany(part => part.Damage)];

    public int Read(SampleBuffer block)
    {
        for (; _at < _parts.Count; _at++)
        {
            if (_parts[_at].Read(block) is > 0 and var frames)
                return frames;
        }

        return 0;
    }

    public void Dispose()
    {
        foreach (var part in _parts)
            part.Dispose();
    }
}
