using Wergamon.Core.Audio.Steps;

namespace Wergamon.Core.Audio;

/// <summary>
/// Any source as 64-bit floats. Computing steps of a route read this, so that no step rounds what the next one needs.
/// Only the last step, <see cref="RequantisingReader"/>, goes back to integers.
/// </summary>
internal sealed class FloatingInput(IPcmReader source) : IDisposable
{
    private readonly SampleBuffer _raw = new(source.Format);
    private readonly SampleBuffer _floating = new(Floating(source.Format));

    public IPcmReader Source => source;

    /// <summary>The samples of the last <see cref="Read"/>.</summary>
    public Span<double> Samples => IsFloating ? _raw.Doubles : _floating.Doubles;

    private bool IsFloating => source.Format is { IsFloat: true, Bits: 64 };

    public static PcmFormat Floating(PcmFormat format) => format with { Bits = 64, Kind = SampleKind.Float };

    /// <summary>Reads the next block and returns its frames; 0 at the end.</summary>
    public int Read()
    {
        int frames = source.Read(_raw);
        if (IsFloating)
            return frames;
        _floating.FrameCount = frames;
        ToDoubles(_raw, _floating.Doubles);
        return frames;
    }

    public void Dispose() => source.Dispose();

    private static void ToDoubles(SampleBuffer from, Span<double> to)
    {
        if (from.Format.IsFloat)
        {
            var floats = from.Floats;
            for (int i = 0; i < floats.Length; i++)
                to[i] = floats[i];
            return;
        }

        var integers = from.Integers;
        double scale = 1.0 / (1L << (from.Format.Bits - 1));
        for (int i = 0; i < integers.Length; i++)
            to[i] = integers[i] * scale;
    }
}
