using System.Globalization;
using Wergamon.Core.Audio;

namespace Wergamon.Core.Analysis.Findings;

/// <summary>Finds digital silence: long at the start or the end, inside, or where the sound stops dead and goes on.</summary>
/// <remarks>Thresholds are ours: no source.</remarks>
internal sealed class GapProbe(PcmFormat format) : ISoundProbe
{
    private const double LongSeconds = 3, InsideSeconds = 1, DropoutSeconds = 0.0007, AbruptLevel = 0.02;

    private readonly List<(long Start, long Frames, bool IsAbrupt)> _gaps = [];
    private long _frame, _zeros, _lead = -1;
    private float _before;

    public void Append(ReadOnlySpan<float> samples)
    {
        int channels = format.Channels;
        for (int at = 0; at < samples.Length; at += channels, _frame++)
        {
            float height = 0;
            foreach (float sample in samples.Slice(at, channels))
                height = Math.Max(height, Math.Abs(sample));
            if (height == 0)
            {
                _zeros++;
                continue;
            }

            if (_zeros > 0)
                EndGap(height);
            _before = height;
        }
    }

    public IEnumerable<Finding> Findings()
    {
        int rate = format.Rate.Hertz;
        if (_frame > 0 && _zeros == _frame)
        {
            yield return new Finding(FindingKind.Silence, Sureness.Certain, "Every sample is zero.", "There is no audio in this file.");
            yield break;
        }

        var abrupt = _gaps.Where(gap => gap.IsAbrupt && gap.Frames >= DropoutSeconds * rate).ToList();
        if (abrupt.Count > 0)
        {
            yield return new Finding(
                FindingKind.Dropout, Sureness.Likely,
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"The audio stops abruptly and continues {(abrupt.Count == 1 ? "once" : $"{abrupt.Count:N0} times")}, first at "
                        + $"{Place(abrupt[0].Start)} for {abrupt[0].Frames * 1000.0 / rate:0.#} ms."),
                "Music fades; lost samples leave such gaps.")
            { Seconds = (double)abrupt[0].Start / rate };
        }

        var parts = new List<string>();
        if (_lead >= LongSeconds * rate)
            parts.Add(string.Create(CultureInfo.InvariantCulture, $"{(double)_lead / rate:0.0} s at the start"));
        var inside = _gaps.Where(gap => !gap.IsAbrupt && gap.Frames >= InsideSeconds * rate).ToList();
        if (inside.Count > 0)
            parts.Add(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{inside.Max(gap => gap.Frames) / (double)rate:0.0} s inside, from {Place(inside.MaxBy(gap => gap.Frames).Start)}"));
        if (_zeros >= LongSeconds * rate)
            parts.Add(string.Create(CultureInfo.InvariantCulture, $"{(double)_zeros / rate:0.0} s at the end"));
        if (parts.Count > 0)
            yield return new Finding(
                FindingKind.Silence, Sureness.Certain, $"Digital silence: {string.Join(", ", parts)}.", "Every sample there is zero.");
    }

    private void EndGap(float after)
    {
        if (_lead < 0 && _zeros == _frame)
            _lead = _zeros;
        else if (_zeros >= DropoutSeconds * format.Rate.Hertz)
            _gaps.Add((_frame - _zeros, _zeros, _before > AbruptLevel && after > AbruptLevel));
        _zeros = 0;
        if (_lead < 0)
            _lead = 0;
    }

    private string Place(long frame) =>
        string.Create(
            CultureInfo.InvariantCulture, $"{(int)(frame / (double)format.Rate.Hertz / 60)}:{frame / (double)format.Rate.Hertz % 60:00.0}");
}
