namespace Wergamon.Core.Audio.Steps;

/// <summary>How much of one channel goes into each side of a stereo downmix.</summary>
public readonly record struct DownmixGain(double Left, double Right);

/// <summary>Linear gains of the channels beyond the front pair in a downmix; 1 is unchanged.</summary>
/// <param name="Centre">On both sides.</param>
/// <param name="Surround">On its own side.</param>
/// <param name="LowFrequency">On both sides; 0 leaves it out.</param>
public readonly record struct DownmixLevels(double Centre, double Surround, double LowFrequency)
{
    /// <summary>0.7071 for centre and surrounds, no low-frequency channel (ITU-R BS.775-3, annex 4, table 2).</summary>
    public static DownmixLevels Standard { get; } = new(Math.Sqrt(0.5), Math.Sqrt(0.5), 0);
}

/// <summary>
/// Folds many channels down to stereo by the coefficients of ITU-R BS.775-3, annex 4, table 2: centre and surrounds
/// at 0.7071, a single surround at 0.5 to each side, the low-frequency channel left out. Mono is half the sum of both sides.
/// </summary>
public sealed class DownmixReader : IPcmReader
{
    private readonly FloatingInput _input;
    private readonly DownmixGain[] _gains;
    private readonly bool _isMono;

    /// <param name="source">Source with known channel roles; owned from now on.</param>
    /// <param name="levels">Those of the standard when omitted.</param>
    /// <param name="channels">2, or 1 for mono.</param>
    public DownmixReader(IPcmReader source, DownmixLevels? levels = null, int channels = 2)
    {
        ArgumentOutOfRangeException.ThrowIfNotEqual(channels is 1 or 2, true);
        _input = new FloatingInput(source);
        _isMono = channels == 1;
        Format = FloatingInput.Floating(source.Format) with { Channels = channels, Roles = ChannelRolesFacts.Usual(channels) };
        _gains = [.. source.Format.Roles.InOrder().Select(role => GainOf(role, levels ?? DownmixLevels.Standard))];
        if (_gains.Length != source.Format.Channels)
            throw new UnreadableAudioException(
                $"The file has {source.Format.Channels} channels and does not say which loudspeaker each belongs to.");
    }

    public PcmFormat Format { get; }

    public long? FrameCount => _input.Source.FrameCount;

    public IReadOnlyList<string> Damage => _input.Source.Damage;

    /// <summary>Gain of one channel to each side.</summary>
    public static DownmixGain GainOf(ChannelRoles role, DownmixLevels levels) => role switch
    {
        ChannelRoles.FrontLeft => new(1, 0),
        ChannelRoles.FrontRight => new(0, 1),
        ChannelRoles.FrontCentre => new(levels.Centre, levels.Centre),
        ChannelRoles.LowFrequency => new(levels.LowFrequency, levels.LowFrequency),
        ChannelRoles.BackLeft or ChannelRoles.SideLeft => new(levels.Surround, 0),
        ChannelRoles.BackRight or ChannelRoles.SideRight => new(0, levels.Surround),
        // The standard sends a single surround to both sides at 0.5.
        ChannelRoles.BackCentre => new(levels.Surround * Math.Sqrt(0.5), levels.Surround * Math.Sqrt(0.5)),
        _ => new(0, 0),
    };

    public int Read(SampleBuffer block)
    {
        int frames = _input.Read();
        block.FrameCount = frames;
        var from = _input.Samples;
        var to = block.Doubles;
        for (int frame = 0; frame < frames; frame++)
        {
            var channels = from.Slice(frame * _gains.Length, _gains.Length);
            double left = 0, right = 0;
            for (int c = 0; c < channels.Length; c++)
            {
                left += channels[c] * _gains[c].Left;
                right += channels[c] * _gains[c].Right;
            }

            if (_isMono)
                to[frame] = (left + right) / 2;
            else
                (to[2 * frame], to[2 * frame + 1]) = (left, right);
        }

        return frames;
    }

    public void Dispose() => _input.Dispose();
}
