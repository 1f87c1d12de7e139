using System.Globalization;
using Wergamon.Core.Audio;

namespace Wergamon.Core.Analysis.Findings;

/// <summary>Compares the channels: the same on both sides, opposite polarity, or the low-frequency channel in another place.</summary>
internal sealed class StereoProbe(PcmFormat format) : ISoundProbe
{
    /// <summary>A difference of less than this is not heard as stereo.</summary>
    private const double NearlyMonoDecibels = -70, MinOpposite = 0.9;

    /// <summary>Steepness of a signal that has nothing above some 200 Hz, relative to its rate.</summary>
    private const double DeepHertz = 200;

    private readonly double[] _energies = new double[format.Channels], _slopes = new double[format.Channels];
    private readonly float[] _last = new float[format.Channels];
    private double _both, _difference;

    public void Append(ReadOnlySpan<float> samples)
    {
        int channels = format.Channels;
        for (int at = 0; at < samples.Length; at += channels)
        {
            for (int channel = 0; channel < channels; channel++)
            {
                float sample = samples[at + channel], slope = sample - _last[channel];
                _energies[channel] += (double)sample * sample;
                _slopes[channel] += (double)slope * slope;
                _last[channel] = sample;
            }

            if (channels != 2)
                continue;
            double left = samples[at], right = samples[at + 1];
            _both += left * right;
            _difference += (left - right) * (left - right);
        }
    }

    public IEnumerable<Finding> Findings()
    {
        if (format.Channels == 2)
            return OfTwoSides();
        return format.Roles.InOrder().ToList() is var roles && roles.Count == format.Channels && roles.Contains(ChannelRoles.LowFrequency)
            ? OfLowFrequencies(roles)
            : [];
    }

    private IEnumerable<Finding> OfTwoSides()
    {
        double energy = _energies[0] + _energies[1];
        if (energy == 0)
            yield break;
        double decibels = 10 * Math.Log10(_difference / energy + 1e-30), alike = _both / Math.Sqrt(_energies[0] * _energies[1] + 1e-30);
        if (_difference == 0)
            yield return new Finding(
                FindingKind.MonoInStereo, Sureness.Certain, "Every sample of the left channel equals that of the right.",
                "It is not stereo: one channel would hold it all.");
        else if (decibels < NearlyMonoDecibels)
            yield return new Finding(
                FindingKind.MonoInStereo, Sureness.Likely,
                string.Create(CultureInfo.InvariantCulture, $"The difference of the channels is {-decibels:0} dB below the music."),
                "That is noise rather than stereo.");
        else if (alike < -MinOpposite)
        {
            yield return new Finding(
                FindingKind.OutOfPhase, alike < -0.999 ? Sureness.Certain : Sureness.Likely,
                string.Create(CultureInfo.InvariantCulture, $"The correlation of the channels is {alike:0.00}."),
                "They cancel each other out in mono: one channel has the wrong polarity.");
        }
    }

    private IEnumerable<Finding> OfLowFrequencies(List<ChannelRoles> roles)
    {
        int stated = roles.IndexOf(ChannelRoles.LowFrequency);
        double deep = Math.Pow(2 * Math.PI * DeepHertz / format.Rate.Hertz, 2);
        var steepness = _slopes.Zip(_energies, (slope, energy) => energy > 0 ? slope / energy : double.NaN).ToList();
        int real = steepness.FindIndex(value => value < deep);
        if (real >= 0 && real != stated && steepness[stated] > 10 * deep && steepness.Count(value => value < deep) == 1)
        {
            yield return new Finding(
                FindingKind.ChannelOrder, Sureness.Likely,
                $"Channel {stated + 1} is declared as low frequency and has a full spectrum; channel {real + 1} has nothing above the "
                    + "bass.",
                "The channels seem to be in a different order than the file says.");
        }
    }
}
