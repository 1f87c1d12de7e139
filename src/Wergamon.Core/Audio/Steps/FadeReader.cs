namespace Wergamon.Core.Audio.Steps;

/// <summary>How long a sound takes to come up at its start and to go down at its end.</summary>
public sealed record FadeTimes(TimeSpan In, TimeSpan Out)
{
    public static TimeSpan Max { get; } = TimeSpan.FromSeconds(60);

    /// <summary>"fade in 2 s, out 5 s"</summary>
    public override string ToString() => "fade " + string.Join(", ", new[] { InWords("in", In), InWords("out", Out) }.OfType<string>());

    private static string? InWords(string direction, TimeSpan length) => length > TimeSpan.Zero
        ? string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{direction} {length.TotalSeconds:0.#} s")
        : null;
}

/// <summary>
/// Fades a sound in and out along a raised cosine, which starts and ends without a corner (common practice, no source); gives 64-bit
/// floats. Where the fades would meet, each is half as long as the sound.
/// </summary>
public sealed class FadeReader : IPcmReader
{
    private readonly FloatingInput _input;
    private readonly long _in, _out, _length;
    private long _at;

    /// <param name="source">Owned from now on.</param>
    /// <param name="length">Frames that it has.</param>
    public FadeReader(IPcmReader source, FadeTimes times, long length)
    {
        _input = new FloatingInput(source);
        _length = length;
        int rate = source.Format.Rate.Hertz;
        (_in, _out) = ((long)(times.In.TotalSeconds * rate), (long)(times.Out.TotalSeconds * rate));
        if (_in + _out > length)
            (_in, _out) = (Math.Min(_in, length / 2), Math.Min(_out, length / 2));
        Format = FloatingInput.Floating(source.Format);
    }

    public PcmFormat Format { get; }

    public long? FrameCount => _input.Source.FrameCount;

    public IReadOnlyList<string> Damage => _input.Source.Damage;

    public int Read(SampleBuffer block)
    {
        int frames = block.FrameCount = _input.Read();
        var from = _input.Samples;
        var to = block.Doubles;
        int channels = Format.Channels;
        if (_at >= _in && _at + frames <= _length - _out)
        {
            from.CopyTo(to);
        }
        else
        {
            for (int i = 0; i < frames; i++)
            {
                double gain = GainAt(_at + i);
                for (int channel = 0; channel < channels; channel++)
                    to[i * channels + channel] = from[i * channels + channel] * gain;
            }
        }

        _at += frames;
        return frames;
    }

    public void Dispose() => _input.Dispose();

    private double GainAt(long frame)
    {
        double gain = 1;
        if (frame < _in)
            gain = Rise((frame + 0.5) / _in);
        if (frame >= _length - _out)
            gain *= Rise((_length - frame - 0.5) / _out);
        return gain;
    }

    private static double Rise(double share) => share <= 0 ? 0 : (1 - Math.Cos(Math.PI * share)) / 2;
}
