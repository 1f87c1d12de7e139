using System.Globalization;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;

namespace Wergamon.Core.Planning;

/// <summary>
/// Finds the route from a source to a target: whatever the target can hold stays unchanged. What is joined or cut comes first. Channels
/// are mixed before the rate is changed (less to compute), then the sound is faded, its level set, and bits are reduced last (so that
/// nothing is rounded twice).
/// </summary>
public static class RoutePlanner
{
    private const int BitsForLossySources = 16;

    /// <summary>Encoders that vary their bitrate exceed its mean by so much with dense music (common practice, no source).</summary>
    private const double FittingShare = 1.2;

    /// <summary>Lower rates cut into the audible range, however evenly they divide.</summary>
    private const int MinFullBandRate = 44_100;

    /// <param name="source">What is known of the source.</param>
    /// <param name="sourceFidelity">Fidelity of the source relative to its master copy.</param>
    /// <param name="target">What the copy is made for.</param>
    /// <param name="known">What its analysis found; null before it.</param>
    /// <param name="span">Which part of the source, and what is appended to it; null for the source as it is. Its length is that of
    /// <paramref name="source"/>.</param>
    public static Route Plan(AudioFacts source, Fidelity sourceFidelity, Target target, KnownSound? known = null, SourceSpan? span = null)
    {
        var steps = new List<RouteStep>();
        var format = source.Format;
        AddSpanSteps(steps, format, target, span);
        AddChannelSteps(steps, ref format, target);
        AddRateStep(steps, ref format, target);
        AddFadeStep(steps, ref format, target);
        AddLevelStep(steps, ref format, target, known);
        AddBitStep(steps, ref format, source, target, known);
        bool isCarried = steps.Count == 0 && !target.EncodesAgain && Fits(source, target);
        steps.Add(isCarried
            ? new RouteStep(StepKind.Carry, Fidelity.Exact, $"{target.Format.Name} as it is", format)
            : new RouteStep(StepKind.Encode, target.IsLossy ? Fidelity.Lossy : Fidelity.Exact, target.Encoder.LabelFor(format), format));
        return new Route(source, sourceFidelity, steps);
    }

    private static void AddSpanSteps(List<RouteStep> steps, PcmFormat format, Target target, SourceSpan? span)
    {
        if (span is { Joined: > 1 })
            steps.Add(
                new RouteStep(StepKind.Join, Fidelity.Exact, string.Create(CultureInfo.InvariantCulture, $"{span.Joined} joined"), format));
        if (span is { Part: { } part })
            steps.Add(
                new RouteStep(StepKind.Cut, Fidelity.Exact, $"{InMinutes(format, part.Start)} to {InMinutes(format, part.End)}", format));
        if (target.TrimsSilence)
            steps.Add(new RouteStep(StepKind.Trim, Fidelity.Exact, "silence trimmed", format));
    }

    private static string InMinutes(PcmFormat format, long frames)
    {
        var time = TimeSpan.FromMilliseconds(Math.Round(format.Duration(frames).TotalMilliseconds));
        return string.Create(
            CultureInfo.InvariantCulture,
            $"{(int)time.TotalMinutes}:{time.Seconds:00}{(time.Milliseconds > 0 ? $".{time.Milliseconds:000}" : "")}");
    }

    private static void AddFadeStep(List<RouteStep> steps, ref PcmFormat format, Target target)
    {
        if (target.Fade is not { } fade)
            return;
        format = format with { Bits = 64, Kind = SampleKind.Float };
        steps.Add(new RouteStep(StepKind.Fade, Fidelity.Recalculated, fade.ToString(), format) { Fade = fade });
    }

    private static void AddChannelSteps(List<RouteStep> steps, ref PcmFormat format, Target target)
    {
        bool isMixed = target.Channels == ChannelChoice.Mono && format.Channels > 1;
        if (isMixed || format.Channels > 2 && (target.Channels.Downmixes() || !target.Format.Limits.HoldsChannels(format)))
        {
            int channels = isMixed ? 1 : 2;
            format = format with { Channels = channels, Roles = ChannelRolesFacts.Usual(channels), Bits = 64, Kind = SampleKind.Float };
            steps.Add(new RouteStep(StepKind.Downmix, Fidelity.Recalculated, isMixed ? "to mono" : "downmix to stereo", format));
        }

        if (target.Channels.MapOf(format) is not { } map)
            return;
        bool isThinned = map.Count < format.Channels;
        var roles = map.Count == format.Channels ? format.Roles : ChannelRolesFacts.Usual(map.Count);
        format = format with { Channels = map.Count, Roles = roles };
        var label = target.Channels switch
        {
            ChannelChoice.Left => "left only",
            ChannelChoice.Right => "right only",
            ChannelChoice.Swapped => "sides swapped",
            _ => "mono to both sides",
        };
        steps.Add(new RouteStep(StepKind.Arrange, isThinned ? Fidelity.Recalculated : Fidelity.Exact, label, format) { Channels = map });
    }

    private static void AddRateStep(List<RouteStep> steps, ref PcmFormat format, Target target)
    {
        int rate = RateFor(format.Rate.Hertz, target);
        if (rate == format.Rate.Hertz)
            return;
        var before = format.Rate;
        format = format with { Rate = new SampleRate(rate), Bits = 64, Kind = SampleKind.Float };
        steps.Add(new RouteStep(StepKind.Resample, Fidelity.Recalculated, $"{before.Kilohertz} to {format.Rate}", format));
    }

    /// <summary>
    /// The gain is known beforehand where the channels stay: resampling changes neither loudness nor peaks by what could be heard.
    /// </summary>
    private static void AddLevelStep(List<RouteStep> steps, ref PcmFormat format, Target target, KnownSound? known)
    {
        if (target.Level is not { NeedsMeasuring: true } rule)
            return;
        bool isRemixed = steps.Any(
            step => step.Kind == StepKind.Downmix || step.Kind == StepKind.Arrange && target.Channels != ChannelChoice.Swapped);
        double? gain = null;
        if (!isRemixed && (rule.AlbumAsOne ? known?.AlbumLevel : known?.Level) is { } level)
        {
            gain = rule.GainFor(level.Integrated, level.TruePeak);
            if (gain == 0)
                return;
        }

        format = format with { Bits = 64, Kind = SampleKind.Float };
        var label = gain is { } decibels ? string.Create(CultureInfo.InvariantCulture, $"{decibels:+0.0;-0.0} dB") : $"to {rule.Goal}";
        steps.Add(new RouteStep(StepKind.Gain, Fidelity.Recalculated, label, format) { Decibels = gain });
    }

    /// <summary>
    /// True when the coded sound of the source is what the target wants: its codec, and hardly more kbit/s than would be made.
    /// </summary>
    private static bool Fits(AudioFacts source, Target target) =>
        target.Format.CanCarry(source)
        && source.Damage.Count == 0
        && (
            target.KeepsAnyBitrate || target.Encoder.MeanKilobits(source.Format) is not { } wanted
                || source.KilobitsPerSecond <= wanted * FittingShare);

    private static int RateFor(int hertz, Target target)
    {
        var rates = target.Format.Limits.Rates;
        if (target.Rate is { } exact && (rates.Count == 0 || rates.Contains(exact.Hertz)))
            return exact.Hertz;
        int most = (target.Rate ?? target.HighestRate)?.Hertz ?? int.MaxValue;
        if (rates.Count == 0)
            return Math.Min(hertz, most);
        if (hertz <= most && rates.Contains(hertz))
            return hertz;

        // A rate that divides evenly is preferred; otherwise the next one up keeps the whole band.
        var allowed = rates.Where(rate => rate <= most).DefaultIfEmpty(rates[0]).ToList();
        int highest = allowed[^1];
        return hertz < highest
            ? allowed.First(rate => rate >= hertz)
            : allowed.Where(rate => rate >= MinFullBandRate && hertz % rate == 0).DefaultIfEmpty(highest).Max();
    }

    private static void AddBitStep(List<RouteStep> steps, ref PcmFormat format, AudioFacts source, Target target, KnownSound? known)
    {
        if (target.IsLossy)
            return;
        var limits = target.Format.Limits;
        int most = Math.Min(target.Bits ?? target.MaxBits ?? int.MaxValue, limits.MaxBits);
        bool mayStayFloat = limits.HoldsFloat && format == source.Format && target.Bits is null;
        if (format.IsFloat && !(mayStayFloat && source.IsLossless))
        {
            int sourceBits = !source.IsLossless ? BitsForLossySources : source.Format.IsFloat ? 24 : source.Format.Bits;
            Requantise(steps, ref format, Math.Min(most, Math.Max(sourceBits, target.Bits ?? 0)), target.Dither);
        }
        else if (!format.IsFloat && format.Bits > most && source.IsLossless && known?.RealBits <= most)
        {
            format = format with { Bits = most };
            steps.Add(
                new RouteStep(
                    StepKind.Narrow, Fidelity.Exact,
                    string.Create(CultureInfo.InvariantCulture, $"holds {Math.Max(1, known.RealBits)}-bit"), format));
        }
        else if (!format.IsFloat && format.Bits > most)
        {
            Requantise(steps, ref format, most, target.Dither);
        }
        else if (!source.IsLossless && !format.IsFloat && format.Bits > BitsForLossySources)
        {
            Requantise(steps, ref format, BitsForLossySources, target.Dither);
        }

        // Where only some depths are possible, samples are widened, which loses nothing.
        int bits = format.IsFloat ? format.Bits : Math.Max(format.Bits, target.Bits is { } exact && exact <= most ? exact : 0);
        if (format.Bits != bits || (limits.Bits.Count > 0 && !limits.Bits.Contains(bits)))
        {
            format = format with { Bits = limits.Bits.Count == 0 ? bits : limits.Bits.First(depth => depth >= bits) };
            steps.Add(new RouteStep(StepKind.Widen, Fidelity.Exact, format.BitsInWords, format));
        }
    }

    private static void Requantise(List<RouteStep> steps, ref PcmFormat format, int bits, Dither dither)
    {
        format = format with { Bits = bits, Kind = SampleKind.Integer };
        steps.Add(
            new RouteStep(
                StepKind.Requantise, Fidelity.Recalculated, string.Create(CultureInfo.InvariantCulture, $"to {bits}-bit"),
                format)
            { Dither = dither });
    }
}
