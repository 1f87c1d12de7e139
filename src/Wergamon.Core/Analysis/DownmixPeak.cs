using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Steps;

namespace Wergamon.Core.Analysis;

/// <summary>
/// Sample peak that the standard downmix to stereo of a surround recording has before it is scaled (<see cref="DownmixReader"/>).
/// </summary>
internal sealed class DownmixPeak
{
    private readonly (float Left, float Right)[] _gains;
    private float _peak;

    private DownmixPeak(IEnumerable<ChannelRoles> roles) =>
        _gains = [
            .. roles.Select(role => DownmixReader.GainOf(role, DownmixLevels.Standard))
                .Select(gain => ((float)gain.Left, (float)gain.Right))
        ];

    /// <summary>Null for at most two channels, and for channels without a known place.</summary>
    public static DownmixPeak? For(PcmFormat format) =>
        format.Channels > 2 && format.Roles.Count() == format.Channels ? new DownmixPeak(format.Roles.InOrder()) : null;

    /// <summary>Linear; full scale is 1.</summary>
    public double Peak => _peak;

    public void Append(ReadOnlySpan<float> samples)
    {
        for (; samples.Length >= _gains.Length; samples = samples[_gains.Length..])
        {
            float left = 0, right = 0;
            for (int channel = 0; channel < _gains.Length; channel++)
            {
                left += samples[channel] * _gains[channel].Left;
                right += samples[channel] * _gains[channel].Right;
            }

            _peak = Math.Max(_peak, Math.Max(Math.Abs(left), Math.Abs(right)));
        }
    }
}
