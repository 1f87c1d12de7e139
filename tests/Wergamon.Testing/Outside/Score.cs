namespace Wergamon.Testing.Outside;

/// <summary>A piece for instruments that are not ours: notes by beats, at a tempo that may move.</summary>
/// <param name="tempoAt">Beats a minute at a beat.</param>
/// <param name="first">Seconds before the first beat.</param>
public sealed class Score(Func<double, double> tempoAt, double first = 0)
{
    private readonly List<MidiEvent> _events = [];

    public Score(double tempo, double first = 0)
        : this(_ => tempo, first)
    {
    }

    public double EndSeconds { get; private set; }

    public IReadOnlyList<MidiEvent> Events => [.. _events.OrderBy(message => message.Seconds).ThenBy(message => message.Kind)];

    public Score Instrument(int channel, int program)
    {
        _events.Add(new MidiEvent(0, channel, MidiKind.Program, program, 0));
        return this;
    }

    public void Note(int channel, int note, double beat, double beats, int velocity)
    {
        double from = SecondsAt(beat), to = SecondsAt(beat + beats);
        _events.Add(new MidiEvent(from, channel, MidiKind.NoteOn, note, velocity));
        _events.Add(new MidiEvent(to, channel, MidiKind.NoteOff, note, 0));
        EndSeconds = Math.Max(EndSeconds, to + 0.5);
    }

    public void Chord(int channel, IEnumerable<int> notes, double beat, double beats, int velocity)
    {
        foreach (int note in notes)
            Note(channel, note, beat, beats, velocity);
    }

    /// <summary>A drum of General MIDI: 36 kick, 38 snare, 42 closed hat, 51 ride.</summary>
    public void Drum(int drum, double beat, int velocity) => Note(9, drum, beat, 0.2, velocity);

    public float[] Render(int rate) => LibFluidSynth.Render(Events, EndSeconds, rate);

    private double SecondsAt(double beat)
    {
        const double Step = 0.25;
        double seconds = first;
        double at = 0;
        for (; at + Step <= beat; at += Step)
            seconds += Step * 60 / tempoAt(at);
        return seconds + (beat - at) * 60 / tempoAt(at);
    }
}
