namespace Wergamon.Demo.Music;

/// <summary>The instruments: each adds one note or one hit to the stage, starting at a sample.</summary>
internal sealed class Players(Stage stage, Dice dice)
{
    private const double HatCut = 0.75;

    public void Kick(int start, double level)
    {
        double phase = 0, pitch = 150, loud = level;
        double fall = ExactMath.DecayFactor(0.45, stage.Rate), drop = ExactMath.DecayFactor(0.16, stage.Rate);
        Play(start, 0.5, 0, low: true, _ =>
        {
            phase += pitch / stage.Rate;
            pitch = 46 + (pitch - 46) * drop;
            loud *= fall;
            return ExactMath.Sine(phase) * loud;
        });
    }

    public void Snare(int start, double level)
    {
        double phase = 0, loud = level, band = 0;
        double fall = ExactMath.DecayFactor(0.22, stage.Rate);
        Play(start, 0.25, 0.1, low: false, _ =>
        {
            phase += 190.0 / stage.Rate;
            loud *= fall;
            band += (dice.Noise() - band) * 0.5;
            return (0.4 * ExactMath.Sine(phase) + 0.8 * band) * loud;
        });
    }

    public void Hat(int start, double level, double seconds)
    {
        double last = 0, held = 0, loud = level;
        double fall = ExactMath.DecayFactor(seconds, stage.Rate);
        Play(start, seconds, 0.35, low: false, _ =>
        {
            double noise = dice.Noise();
            held = HatCut * (held + noise - last);
            last = noise;
            loud *= fall;
            return held * loud * 0.5;
        });
    }

    public void Bass(int start, double seconds, int note, double level)
    {
        double step = ExactMath.Frequency(note) / stage.Rate, phase = 0, smooth = 0;
        Sustain(start, seconds, 0, low: true, level, 0.01, 0.06, _ =>
        {
            phase += step;
            double saw = 2 * (phase - (long)phase) - 1;
            smooth += (saw - smooth) * 0.06;
            return smooth + 0.4 * ExactMath.Sine(phase);
        });
    }

    public void Organ(int start, double seconds, int note, double level, double place)
    {
        double step = ExactMath.Frequency(note) / stage.Rate;
        Sustain(start, seconds, place, low: false, level, 0.04, 0.12, i =>
        {
            double at = i * step;
            return 0.6 * ExactMath.Sine(at) + 0.3 * ExactMath.Sine(2 * at) + 0.15 * ExactMath.Sine(3 * at) + 0.08 * ExactMath.Sine(4 * at);
        });
    }

    public void Strings(int start, double seconds, int note, double level, double place)
    {
        double step = ExactMath.Frequency(note) / stage.Rate, first = 0, second = 0.37, smooth = 0;
        Sustain(start, seconds, place, low: false, level, 0.18, 0.3, _ =>
        {
            first += step * 1.0025;
            second += step * 0.9975;
            double saws = first - (long)first + second - (long)second - 1;
            smooth += (saws - smooth) * 0.18;
            return smooth;
        });
    }

    public void Bell(int start, double seconds, int note, double level, double place)
    {
        double step = ExactMath.Frequency(note) / stage.Rate, loud = level;
        double fall = ExactMath.DecayFactor(seconds + 0.6, stage.Rate);
        Play(start, seconds + 0.6, place, low: false, i =>
        {
            loud *= fall;
            double at = i * step;
            return ExactMath.Sine(at + 1 + 0.35 * loud / level * ExactMath.Sine(3 * at)) * loud;
        });
    }

    public void Pluck(int start, double seconds, int note, double level, double place)
    {
        int length = Math.Max(2, (int)(stage.Rate / ExactMath.Frequency(note)));
        var loop = new double[length];
        for (int i = 0; i < length; i++)
            loop[i] = dice.Noise();
        int at = 0;
        Play(start, seconds + 0.4, place, low: false, _ =>
        {
            int next = at + 1 == length ? 0 : at + 1;
            double value = loop[at];
            loop[at] = 0.498 * (value + loop[next]);
            at = next;
            return value * level;
        });
    }

    public void Horn(int start, double seconds, int note, double level, double place)
    {
        double step = ExactMath.Frequency(note) / stage.Rate, phase = 0, smooth = 0;
        Sustain(start, seconds, place, low: false, level, 0.05, 0.08, i =>
        {
            phase += step * (1 + 0.004 * ExactMath.Sine(5.2 * i / stage.Rate));
            double saw = 2 * (phase - (long)phase) - 1;
            smooth += (saw - smooth) * 0.25;
            return smooth;
        });
    }

    private void Sustain(int start, double seconds, double place, bool low, double level, double rise, double fall, Func<int, double> wave)
    {
        double riseFrames = rise * stage.Rate, holdFrames = seconds * stage.Rate, fallFrames = fall * stage.Rate;
        Play(start, seconds + fall, place, low, i =>
        {
            double shape = i < riseFrames ? i / riseFrames : i < holdFrames ? 1 : Math.Max(0, 1 - (i - holdFrames) / fallFrames);
            return wave(i) * shape * level;
        });
    }

    private void Play(int start, double seconds, double place, bool low, Func<int, double> sample)
    {
        var gains = stage.GainsAt(place, low);
        int end = Math.Min(stage.Frames, start + (int)(seconds * stage.Rate));
        for (int i = start; i < end; i++)
        {
            double value = sample(i - start);
            for (int c = 0; c < gains.Length; c++)
                stage.Lines[c][i] += value * gains[c];
        }
    }
}
