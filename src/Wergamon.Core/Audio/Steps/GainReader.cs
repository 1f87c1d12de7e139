namespace Wergamon.Core.Audio.Steps;

/// <summary>Multiplies every sample by a gain; gives 64-bit floats, which may go beyond full scale.</summary>
public sealed class GainReader : IPcmReader
{
    private readonly FloatingInput _input;
    private readonly double _gain;

    /// <param name="source">Owned from now on.</param>
    /// <param name="gain">Linear; 1 changes nothing.</param>
    public GainReader(IPcmReader source, double gain)
    {
        _input = new FloatingInput(source);
        _gain = gain;
        Format = FloatingInput.Floating(source.Format);
    }

    public PcmFormat Format { get; }

    public long? FrameCount => _input.Source.FrameCount;

    public IReadOnlyList<string> Damage => _input.Source.Damage;

    public int Read(SampleBuffer block)
    {
        block.FrameCount = _input.Read();
        var from = _input.Samples;
        var to = block.Doubles;
        for (int i = 0; i < from.Length; i++)
            to[i] = from[i] * _gain;
        return block.FrameCount;
    }

    public void Dispose() => _input.Dispose();
}
