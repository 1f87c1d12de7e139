using System.Globalization;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;

namespace Wergamon.Core.Planning;

/// <summary>
/// Works out the route of a source to a target: nothing is changed that the target can hold as it is. Channels are downmixed
/// before the rate is changed (less to compute), and bits are taken away last (so that nothing is rounded twice).
/// </summary>
public static class RoutePlanner
{
    private const int BitsForLossySources = 16;
    private const int MaxFlacBits = 24;

    /// <summary>Below this a rate cuts into what people hear, however evenly it divides.</summary>
    private const int MinFullBandRate = 44_100;

    /// <summary>Sample rates of MPEG-1 and MPEG-2 layer III (ISO 11172-3, ISO 13818-3) and their halves, in rising order.</summary>
    private static readonly int[] Mp3Rates = [8_000, 11_025, 12_000, 16_000, 22_050, 24_000, 32_000, 44_100, 48_000];

    /// <param name="source">What is known of the source.</param>
    /// <param name="sourceFidelity">What the source is, seen from its master copy.</param>
    /// <param name="target">What the copy is made for.</param>
    public static Route Plan(AudioFacts source, Fidelity sourceFidelity, Target target)
    {
        var steps = new List<RouteStep>();
        var format = source.Format;

        if (MaxChannels(target.Kind) < format.Channels || target.DownmixesToStereo && format.Channels > 2)
        {
            format = format with { Channels = 2, Roles = ChannelRoles.Stereo, Bits = 64, Kind = SampleKind.Float };
            steps.Add(new RouteStep(StepKind.Downmix, Fidelity.Recalculated, "downmix to stereo", format));
        }

        int rate = RateFor(format.Rate.Hertz, target);
        if (rate != format.Rate.Hertz)
        {
            var before = format.Rate;
            format = format with { Rate = new SampleRate(rate), Bits = 64, Kind = SampleKind.Float };
            steps.Add(new RouteStep(StepKind.Resample, Fidelity.Recalculated, $"{before.Kilohertz} to {format.Rate}", format));
        }

        AddBitStep(steps, ref format, source, target);
        var label = target.Kind == FileKind.Mp3 ? EffectiveMp3Label(target.Mp3, rate) : $"{target.Kind.ToString().ToUpperInvariant()} {format.BitsInWords}";
        steps.Add(new RouteStep(StepKind.Encode, target.IsLossy ? Fidelity.Lossy : Fidelity.Exact, label, format));
        return new Route(source, sourceFidelity, steps);
    }

    private static int MaxChannels(FileKind kind) => kind switch
    {
        FileKind.Mp3 => 2,
        FileKind.Flac => 8,
        _ => int.MaxValue,
    };

    private static int RateFor(int hertz, Target target)
    {
        int most = target.HighestRate?.Hertz ?? int.MaxValue;
        if (target.Kind != FileKind.Mp3)
            return Math.Min(hertz, most);
        if (hertz <= most && Mp3Rates.Contains(hertz))
            return hertz;

        // A rate that divides evenly is preferred; below the lowest, and between two, the next one up keeps the whole band.
        var allowed = Mp3Rates.Where(rate => rate <= most).ToList();
        int highest = allowed[^1];
        return hertz < highest
            ? allowed.First(rate => rate >= hertz)
            : allowed.Where(rate => rate >= MinFullBandRate && hertz % rate == 0).DefaultIfEmpty(highest).Max();
    }

    private static void AddBitStep(List<RouteStep> steps, ref PcmFormat format, AudioFacts source, Target target)
    {
        if (target.Kind == FileKind.Mp3)
            return;
        int most = Math.Min(target.MaxBits ?? int.MaxValue, target.Kind == FileKind.Flac ? MaxFlacBits : int.MaxValue);
        bool mayStayFloat = target.Kind == FileKind.Wav && format == source.Format;
        if (format.IsFloat && !(mayStayFloat && source.IsLossless))
        {
            int sourceBits = !source.IsLossless ? BitsForLossySources : source.Format.IsFloat ? 24 : source.Format.Bits;
            Requantise(steps, ref format, Math.Min(most, sourceBits));
        }
        else if (!format.IsFloat && format.Bits > most)
        {
            Requantise(steps, ref format, most);
        }
        else if (!source.IsLossless && !format.IsFloat && format.Bits > BitsForLossySources)
        {
            Requantise(steps, ref format, BitsForLossySources);
        }

        // The FLAC encoder takes samples of 16 or 24 bits; fewer bits are moved up, which loses nothing.
        if (target.Kind == FileKind.Flac && format.Bits is not (16 or 24))
        {
            format = format with { Bits = format.Bits < 16 ? 16 : 24 };
            steps.Add(new RouteStep(StepKind.Widen, Fidelity.Exact, format.BitsInWords, format));
        }
    }

    private static void Requantise(List<RouteStep> steps, ref PcmFormat format, int bits)
    {
        format = format with { Bits = bits, Kind = SampleKind.Integer };
        steps.Add(new RouteStep(StepKind.Requantise, Fidelity.Recalculated, string.Create(CultureInfo.InvariantCulture, $"to {bits}-bit"), format));
    }

    private static string EffectiveMp3Label(Mp3Quality quality, int hertz) =>
        quality.IsVariable ? quality.Label : Mp3Quality.Constant(quality.KilobitsPerSecond(hertz)).Label;
}
