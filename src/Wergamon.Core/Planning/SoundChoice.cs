using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Steps;
using Wergamon.Core.Formats;

namespace Wergamon.Core.Planning;

/// <summary>The choices of a target that decide how its copies sound.</summary>
/// <param name="Encoder">As <see cref="Target.Encoder"/>, and so on.</param>
public sealed record SoundChoice(EncoderSettings Encoder)
{
    public SampleRate? HighestRate { get; init; }

    public SampleRate? Rate { get; init; }

    public int? MaxBits { get; init; }

    public int? Bits { get; init; }

    public ChannelChoice Channels { get; init; }

    public LevelRule? Level { get; init; }

    public bool TrimsSilence { get; init; }

    public FadeTimes? Fade { get; init; }

    public Dither Dither { get; init; }

    public bool EncodesAgain { get; init; }

    public static SoundChoice Of(Target target) => new(target.Encoder)
    {
        HighestRate = target.HighestRate,
        Rate = target.Rate,
        MaxBits = target.MaxBits,
        Bits = target.Bits,
        Channels = target.Channels,
        Level = target.Level,
        TrimsSilence = target.TrimsSilence,
        Fade = target.Fade,
        Dither = target.Dither,
        EncodesAgain = target.EncodesAgain,
    };

    public Target ApplyTo(Target target) => target with
    {
        Encoder = Encoder,
        HighestRate = HighestRate,
        Rate = Rate,
        MaxBits = MaxBits,
        Bits = Bits,
        Channels = Channels,
        Level = Level,
        TrimsSilence = TrimsSilence,
        Fade = Fade,
        Dither = Dither,
        EncodesAgain = EncodesAgain,
    };
}
