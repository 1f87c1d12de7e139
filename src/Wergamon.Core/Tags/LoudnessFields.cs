using System.Globalization;

namespace Wergamon.Core.Tags;

/// <summary>
/// The measured loudness of a track as fields that players read. In Opus the gain to -23 LUFS in steps of 1/256 dB (RFC 7845, section
/// 5.2.1); elsewhere the gain to -18 LUFS in decibels, and the peak. <em>Common practice, no source.</em>
/// </summary>
public static class LoudnessFields
{
    private const string Gain = "replaygain_track_gain", Peak = "replaygain_track_peak", OpusGain = "r128_track_gain";

    private const double Reference = -18, OpusReference = -23, StepsPerDecibel = 256;

    /// <param name="loudness">Integrated, in LUFS.</param>
    /// <param name="truePeak">Linear; 1 is full scale.</param>
    /// <param name="isOpus">True for fields of an Opus file.</param>
    public static IReadOnlyList<TagField> Of(double loudness, double truePeak, bool isOpus) => isOpus
        ? [
            new TagField(
                OpusGain,
                [
                    Math.Clamp(Math.Round((OpusReference - loudness) * StepsPerDecibel), short.MinValue, short.MaxValue)
                        .ToString(CultureInfo.InvariantCulture)
                ])
        ]
        : [
            new TagField(Gain, [(Reference - loudness).ToString("0.00 'dB'", CultureInfo.InvariantCulture)]),
            new TagField(Peak, [truePeak.ToString("0.000000", CultureInfo.InvariantCulture)])
        ];
}
