using System.Globalization;
using Wergamon.Core.Audio;

namespace Wergamon.Core.Analysis.Findings;

/// <summary>Finds single samples out of line: the second difference jumps far above what it is shortly before and after.</summary>
/// <remarks>Thresholds are ours: no source.</remarks>
internal sealed class ClickProbe(PcmFormat format) : ChannelProbe<ClickProbe.Channel>(format)
{
    /// <summary>
    /// How far a jump stands out of every other one around, and how alike both sides of it are: an attack has quiet on one side only.
    /// </summary>
    private const double MinRatio = 8, MaxUnlike = 3, MinHeight = 0.02;

    private const int SureClicks = 10;

    /// <summary>More than this many in a second are a part of the sound.</summary>
    private const double MaxPerSecond = 3;

    public override IEnumerable<Finding> Findings()
    {
        int clicks = Channels.Sum(channel => channel.Clicks);
        if (clicks == 0 || clicks > Math.Max(SureClicks, MaxPerSecond * FrameCount / Format.Rate.Hertz))
            yield break;
        double seconds = (double)Channels.Where(channel => channel.Clicks > 0).Min(channel => channel.First) / Format.Rate.Hertz;
        yield return new Finding(
            FindingKind.Clicks, clicks >= SureClicks ? Sureness.Likely : Sureness.Unsure,
            string.Create(
                CultureInfo.InvariantCulture,
                $"{(clicks == 1 ? "A single jump stands" : $"{clicks:N0} jumps stand")} out from the surrounding sound, first at "
                    + $"{(int)(seconds / 60)}:{seconds % 60:00.0}."),
            clicks >= SureClicks
                ? "Scratches and dropped samples leave such jumps."
                : "Scratches and dropped samples leave such jumps; a synthesiser can make one as well.")
        { Seconds = seconds };
    }

    /// <summary>The magnitudes of the last second differences, with the greatest of each short part.</summary>
    internal sealed class Channel : IChannelProbe
    {
        /// <summary>Samples of a part, parts on each side that are compared, and samples that belong to a jump itself.</summary>
        private const int Part = 64, Sides = 24, Own = 4;

        private const int Parts = 2 * Sides + 1;

        private readonly float[] _jumps = new float[Parts * Part];
        private readonly float[] _greatest = new float[Parts];
        private float _last, _before;
        private int _at;
        private long _parts;

        public int Clicks { get; private set; }

        public long First { get; private set; }

        public void Append(float sample, long frame)
        {
            float jump = Math.Abs(sample - 2 * _last + _before);
            (_before, _last) = (_last, sample);
            int part = (int)(_parts % Parts);
            _jumps[part * Part + _at] = jump;
            _greatest[part] = Math.Max(_greatest[part], jump);
            if (++_at < Part)
                return;
            _at = 0;
            if (++_parts >= Parts && IsClick((int)((_parts - 1 - Sides) % Parts)) && Clicks++ == 0)
                First = Math.Max(0, frame - Sides * Part);
            _greatest[(int)(_parts % Parts)] = 0;
        }

        /// <summary>Whether the part in the middle holds a jump that nothing around comes near.</summary>
        private bool IsClick(int middle)
        {
            float height = _greatest[middle];
            if (height < MinHeight)
                return false;
            float limit = (float)(height / MinRatio);
            double before = 0, after = 0;
            for (int side = 2; side <= Sides; side++)
            {
                float one = _greatest[(middle - side + Parts) % Parts], other = _greatest[(middle + side) % Parts];
                if (one > limit || other > limit)
                    return false;
                before += one;
                after += other;
            }

            if (before > MaxUnlike * after || after > MaxUnlike * before)
                return false;
            int place = Array.IndexOf(_jumps, height, middle * Part, Part);
            for (int i = -Part; i < 2 * Part; i++)
            {
                int at = (middle * Part + i + _jumps.Length) % _jumps.Length;
                if (Math.Abs(middle * Part + i - place) > Own && _jumps[at] > limit)
                    return false;
            }

            return true;
        }
    }
}
