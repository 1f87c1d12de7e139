namespace Wergamon.Core.Analysis;

/// <summary>
/// Waveform of a signal of unknown length: minimum and maximum in columns of equal length. Columns are merged
/// in pairs whenever there are too many, so that memory is bounded and one pass is enough.
/// </summary>
public sealed class Waveform
{
    /// <summary>Maximum number of columns; at least half as many for any signal of that many blocks.</summary>
    public const int MaxColumns = 1000;

    private const int FirstFramesPerColumn = 64;
    private const double FullScale = sbyte.MaxValue;

    private readonly float[] _low = new float[MaxColumns];
    private readonly float[] _high = new float[MaxColumns];
    private int _columns;
    private int _framesPerColumn = FirstFramesPerColumn;
    private int _framesInLast;

    /// <param name="samples">Whole frames, interleaved; full scale is 1. All channels share one outline.</param>
    /// <param name="channels">Samples a frame.</param>
    public void Append(ReadOnlySpan<float> samples, int channels)
    {
        while (samples.Length > 0)
        {
            if (_framesInLast == 0 || _framesInLast == _framesPerColumn)
                BeginColumn();
            int frames = Math.Min(samples.Length / channels, _framesPerColumn - _framesInLast);
            int last = _columns - 1;
            (_low[last], _high[last]) = SampleRange.Widen(samples[..(frames * channels)], _low[last], _high[last]);
            _framesInLast += frames;
            samples = samples[(frames * channels)..];
        }
    }

    /// <summary>Minimum and maximum of each column in turn as signed bytes, 127 for full scale; empty without samples.</summary>
    public byte[] ToBytes()
    {
        var bytes = new byte[2 * _columns];
        for (int column = 0; column < _columns; column++)
        {
            bytes[2 * column] = ByteOf(_low[column]);
            bytes[2 * column + 1] = ByteOf(_high[column]);
        }

        return bytes;
    }

    internal static byte ByteOf(float sample) => unchecked((byte)(sbyte)Math.Round(Math.Clamp(sample, -1, 1) * FullScale));

    private void BeginColumn()
    {
        if (_columns == MaxColumns)
            MatchPairs();
        _low[_columns] = float.MaxValue;
        _high[_columns] = float.MinValue;
        _columns++;
        _framesInLast = 0;
    }

    private void MatchPairs()
    {
        _columns /= 2;
        for (int column = 0; column < _columns; column++)
        {
            _low[column] = Math.Min(_low[2 * column], _low[2 * column + 1]);
            _high[column] = Math.Max(_high[2 * column], _high[2 * column + 1]);
        }

        _framesPerColumn *= 2;
    }
}
