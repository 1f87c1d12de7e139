using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Resampling;

namespace Wergamon.Core.Analysis.Comparing;

/// <summary>Spectrogram of one sound of a comparison: short spectra side by side, as levels in bytes.</summary>
public static class PairSpectrogram
{
    /// <summary>Frequencies of a column, evenly from 0 to half the sample rate.</summary>
    public const int Rows = 256;

    /// <summary>A byte of 0 stands for this level or less, 255 for full scale.</summary>
    public const double LowestDecibels = -130;

    private const int Length = 2048, WindowsPerColumn = 3;

    private const double WindowDecibels = 80;

    private static readonly double[] Window = KaiserWindow.Of(Length, WindowDecibels);
    private static readonly double Gain = Window.Sum();

    /// <param name="from">First frame; can be anywhere.</param>
    /// <param name="to">More than <paramref name="from"/>.</param>
    /// <returns>Column by column, from low to high frequencies; the loudest channel, at the loudest of some places in a wide
    /// column.</returns>
    public static byte[] Draw(AlignedSound sound, ComparedSignal signal, double from, double to, int columns)
    {
        var result = new byte[columns * Rows];
        var fourier = new FourierTransform(Length);
        var (real, imaginary, powers) = (new double[Length], new double[Length], new double[Rows]);
        double each = (to - from) / columns;
        int windows = each > Length ? WindowsPerColumn : 1;
        for (int column = 0; column < columns; column++)
        {
            Array.Clear(powers);
            for (int window = 0; window < windows; window++)
            {
                sound.Read((long)(from + (column + (window + 0.5) / windows) * each) - Length / 2, Length);
                var samples = signal switch
                {
                    ComparedSignal.First => sound.First,
                    ComparedSignal.Second => sound.Matched,
                    _ => sound.Residue
                };
                for (int channel = 0; channel < sound.Channels; channel += 2)
                {
                    // Two channels in one transform.
                    for (int i = 0, at = channel; i < Length; i++, at += sound.Channels)
                    {
                        real[i] = Window[i] * samples[at];
                        imaginary[i] = channel + 1 < sound.Channels ? Window[i] * samples[at + 1] : 0;
                    }

                    fourier.Forward(real, imaginary);
                    Widen(powers, real, imaginary);
                }
            }

            for (int row = 0; row < Rows; row++)
                result[column * Rows + row] = LevelOf(powers[row]);
        }

        return result;
    }

    private static void Widen(double[] powers, double[] real, double[] imaginary)
    {
        const int BinsPerRow = Length / 2 / Rows;
        for (int k = 1; k < Length / 2; k++)
        {
            int mirrored = Length - k;
            double evenReal = real[k] + real[mirrored], evenImaginary = imaginary[k] - imaginary[mirrored];
            double oddReal = imaginary[k] + imaginary[mirrored], oddImaginary = real[mirrored] - real[k];
            double power = Math.Max(
                evenReal * evenReal + evenImaginary * evenImaginary, oddReal * oddReal + oddImaginary * oddImaginary) / 4;
            powers[k / BinsPerRow] = Math.Max(powers[k / BinsPerRow], power);
        }
    }

    private static byte LevelOf(double power)
    {
        double decibels = power <= 0 ? LowestDecibels : 10 * Math.Log10(power / (Gain * Gain / 4));
        return (byte)Math.Clamp(Math.Round(255 * (1 - decibels / LowestDecibels)), 0, 255);
    }
}
