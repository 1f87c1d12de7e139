namespace Wergamon.Testing;

public enum MidiKind
{
    NoteOff,
    NoteOn,
    Program,
}
