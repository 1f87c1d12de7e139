namespace Wergamon.Testing.Outside;

/// <summary>A MIDI message at a time of a piece.</summary>
/// <param name="Channel">From 0; 9 is the drums of General MIDI.</param>
/// <param name="Kind">Note on, note off or program change.</param>
public readonly record struct MidiEvent(double Seconds, int Channel, MidiKind Kind, int Number, int Velocity);
